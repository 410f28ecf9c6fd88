import { formats as messages } from '../../wording/formats'
import { type FrameRate, frameAt, timecodeOf } from '../timecode'
import { timeOf } from './csv'
import { boundedMarkers, type Marker, type MarkerProblem, type MarkersRead, oneLine } from './marker'

const DASHES = new Set(['-', '–', '—', 'to'])
/** Lines longer than this are no list of times. */
const LINE_MAX = 4000

/** Writes markers as lines to paste: "00:00:23:10 - 00:00:25:00 shutter slams [spot, must] (note)". */
export function markersToPlainList(markers: readonly Marker[], rate: FrameRate, drop: boolean): string {
  const code = (timeS: number): string => timecodeOf(frameAt(timeS, rate), rate, drop)
  return markers
    .map(({ startS, endS, name, note, tags }) => {
      const said = Object.values(tags).join(', ')
      return [
        endS === null ? code(startS) : `${code(startS)} - ${code(endS)}`,
        oneLine(name) || '-',
        said && `[${said}]`,
        oneLine(note) && `(${oneLine(note)})`,
      ]
        .filter(Boolean)
        .join(' ')
    })
    .join('\n')
    .concat('\n')
}

/**
 * Reads lines that begin with a time, or two with a dash between. The rest is the name; "[kind, weight]" and "(note)" at its end are read
 * too. Lines without a time at their start are told.
 *
 * @returns Null where no line begins with a time.
 */
export function markersFromPlainList(text: string, rate: FrameRate, drop: boolean): MarkersRead | null {
  const markers: Marker[] = []
  const problems: MarkerProblem[] = []
  for (const [index, raw] of text
    .replace(/^\uFEFF/, '')
    .split(/\r\n?|\n/)
    .entries()) {
    const line = raw.slice(0, LINE_MAX).trim()
    if (line === '') continue
    const marker = markerOfLine(line, rate, drop)
    if (marker) markers.push({ ...marker, line: index + 1 })
    else problems.push({ line: index + 1, words: messages.doesNotBeginWithTime(line.slice(0, 40)) })
  }
  return markers.length === 0 ? null : boundedMarkers(markers, problems)
}

function markerOfLine(line: string, rate: FrameRate, drop: boolean): Marker | null {
  const words = line.split(/\s+/)
  const [first = '', second = '', third = ''] = words
  const startS = timeOf(first, rate, drop)
  if (startS === null) return spanInOne(first, words.slice(1), rate, drop)
  const endS = DASHES.has(second) ? timeOf(third, rate, drop) : null
  const rest = words.slice(endS === null ? 1 : 3)
  return { startS, endS, ...wordsOf(rest.join(' ')) }
}

/** A span that is written without blanks: "0:10-0:12". */
function spanInOne(text: string, rest: readonly string[], rate: FrameRate, drop: boolean): Marker | null {
  const at = [...text].findIndex((letter, index) => index > 0 && DASHES.has(letter))
  if (at < 0) return null
  const startS = timeOf(text.slice(0, at), rate, drop)
  const endS = timeOf(text.slice(at + 1), rate, drop)
  return startS === null || endS === null ? null : { startS, endS, ...wordsOf(rest.join(' ')) }
}

function wordsOf(text: string): Pick<Marker, 'name' | 'note' | 'tags'> {
  let rest = text.trim()
  let note = ''
  const tags: Record<string, string> = {}
  const open = rest.endsWith(')') ? rest.lastIndexOf(' (') : -1
  if (open >= 0) {
    note = rest.slice(open + 2, -1)
    rest = rest.slice(0, open).trim()
  }
  const bracket = rest.endsWith(']') ? rest.lastIndexOf('[') : -1
  if (bracket >= 0) {
    for (const word of rest.slice(bracket + 1, -1).split(',')) {
      const value = word.trim().toLowerCase()
      tags[value === 'must' || value === 'nice' ? 'weight' : 'kind'] = value
    }
    rest = rest.slice(0, bracket).trim()
  }
  return { name: rest === '-' ? '' : rest, note, tags }
}
