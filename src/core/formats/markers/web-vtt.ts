import { captionEntries } from '../captions'
import { escapedMarkup } from '../markup'
import { boundedMarkers, type Marker, type MarkersRead, oneLine } from './marker'

/** An instant is shown so long, since a cue has a length, s. */
const INSTANT_S = 1
const INSTANT_MARK = 'instant'

/** Writes markers as WebVTT: the name, then what else is said of it in a line of brackets, then the note. */
export function markersToWebVtt(markers: readonly Marker[]): string {
  const cues = markers.map(({ startS, endS, name, note, tags }, index) => {
    const said = [
      ...Object.entries(tags).map(([key, value]) => `${key}: ${value}`),
      ...(endS === null ? [INSTANT_MARK] : []),
    ]
    // A cue that ends when it begins is none: one of a millisecond stands for it.
    const until = endS === null ? startS + INSTANT_S : Math.max(endS, startS + 0.001)
    const lines = [
      escapedMarkup(oneLine(name)) || '-',
      `[${said.map(escapedMarkup).join(', ')}]`,
      escapedMarkup(oneLine(note)),
    ]
    return [`${index + 1}`, `${clock(startS)} --> ${clock(until)}`, ...lines.filter((line) => line !== '')].join('\n')
  })
  return `WEBVTT\n\n${cues.join('\n\n')}\n`
}

function clock(timeS: number): string {
  const ms = Math.round(timeS * 1000)
  const two = (value: number, digits = 2): string => String(value).padStart(digits, '0')
  return `${two(Math.floor(ms / 3_600_000))}:${two(Math.floor(ms / 60_000) % 60)}:${two(Math.floor(ms / 1000) % 60)}.${two(ms % 1000, 3)}`
}

function unescaped(text: string): string {
  return text.replace(/&lt;/g, '<').replace(/&gt;/g, '>').replace(/&amp;/g, '&')
}

/** Reads markers from WebVTT or SubRip, each cue one. @returns Null for what is neither. */
export function markersFromWebVtt(text: string): MarkersRead | null {
  const entries = captionEntries(text)
  if (!entries) return null
  const markers = entries.map(({ from, to, text: words }): Marker => {
    const lines = words.split('\n').map((line) => unescaped(line.trim()))
    const at = lines.findIndex((line) => line.startsWith('[') && line.endsWith(']'))
    const said = at < 0 ? [] : (lines[at] as string).slice(1, -1).split(', ')
    const tags: Record<string, string> = {}
    for (const one of said) {
      const [key = '', value] = one.split(': ')
      if (value !== undefined) tags[key] = value
    }
    const name = lines.slice(0, at < 0 ? undefined : at).join(' ')
    const isInstant = said.includes(INSTANT_MARK)
    const startS = from / 1000
    const note = at < 0 ? '' : lines.slice(at + 1).join(' ')
    return { startS, endS: isInstant ? null : to / 1000, name: name === '-' ? '' : name, note, tags }
  })
  return boundedMarkers(markers, [])
}
