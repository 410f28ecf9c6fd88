import { formats as messages } from '../../wording/formats'
import { EDL_EVENT, edlLines, hoursBefore, hoursInS, hoursWords } from '../edl'
import {
  type FrameRate,
  frameAt,
  frameOfTimecode,
  frameStartS,
  mayDropFrames,
  nominalRate,
  timecodeOf,
} from '../timecode'
import { boundedMarkers, type Marker, type MarkerProblem, type MarkersRead, oneLine } from './marker'

/** A list numbers its events with three digits, and goes on with more where there are more. */
const NUMBER_DIGITS = 3
/** Lines longer than this are cut off. */
const COMMENT_MAX = 400

/**
 * Writes markers as an edit decision list (CMX 3600): one event each, on the record side, what is said of it in comment lines below.
 *
 * @param title Of the list. @param drop Whether numbers of timecode are dropped.
 */
export function markersToEdl(
  markers: readonly Marker[],
  { title, rate, drop }: { title: string; rate: FrameRate; drop: boolean },
): string {
  const drops = drop && mayDropFrames(rate)
  const events = markers.map(({ startS, endS, name, note, tags }, index) => {
    const from = frameAt(startS, rate)
    const to = Math.max(from + 1, endS === null ? 0 : frameAt(endS, rate))
    const code = (frame: number): string => timecodeOf(frame, rate, drops)
    const number = String(index + 1).padStart(NUMBER_DIGITS, '0')
    const times = [code(0), code(to - from), code(from), code(to)].join(' ')
    const comments = [
      ['NAME', name],
      ...Object.entries(tags).map(([key, value]) => [key.toUpperCase(), value]),
      ['NOTE', note],
      ...(endS === null ? [['LENGTH', 'INSTANT']] : []),
    ]
      .filter(([, value]) => oneLine(value ?? '') !== '')
      .map(([key, value]) => `* ${key}: ${oneLine(value ?? '').slice(0, COMMENT_MAX)}`)
    return [`${number}  AX       V     C        ${times}`, ...comments].join('\n')
  })
  return [
    `TITLE: ${oneLine(title).slice(0, 70)}`,
    `FCM: ${drops ? 'DROP FRAME' : 'NON-DROP FRAME'}`,
    '',
    ...events,
    '',
  ].join('\n')
}

/**
 * Reads the events of an edit decision list as markers, at their record times. What begins after the first hour and names nothing in it is
 * taken to begin at an hour, as lists often do.
 *
 * @param rate Of the list: the format does not name it. @returns Null for what is no such list.
 */
export function markersFromEdl(text: string, rate: FrameRate): MarkersRead | null {
  const lines = edlLines(text)
  if (!lines) return null
  let drop = false
  const problems: MarkerProblem[] = []
  const markers: Marker[] = []
  for (const [index, raw] of lines.entries()) {
    const line = raw.trim()
    if (/^FCM:/i.test(line)) drop = /FCM:\s*DROP/i.test(line)
    const event = EDL_EVENT.exec(line)
    if (event) {
      const marker = markerOfEvent(event, rate, drop)
      if (typeof marker === 'string') problems.push({ line: index + 1, words: marker })
      else markers.push({ ...marker, line: index + 1 })
    } else if (line.startsWith('*')) addComment(markers, line.slice(1).trim())
  }
  const shifted = fromTheHour(markers)
  return boundedMarkers(shifted.markers, [...shifted.problems, ...problems])
}

/** @returns What is wrong with it, in words, where it cannot be read. */
function markerOfEvent(event: RegExpExecArray, rate: FrameRate, drop: boolean): Marker | string {
  const [from, to] = [event[7] as string, event[8] as string].map((code) => frameOfTimecode(code, rate, drop))
  for (const one of [from, to]) {
    if (!one || !('problem' in one)) continue
    if (one.problem === 'frame-too-high') return messages.listCountsMoreThanFrames(nominalRate(rate))
    return one.problem === 'dropped-number'
      ? messages.doesNotExistWhereNumbers(event[7])
      : messages.isNoTimecode(event[7])
  }
  const startS = frameStartS((from as { frame: number }).frame, rate)
  return { startS, endS: frameStartS((to as { frame: number }).frame, rate), name: '', note: '', tags: {} }
}

/** What a comment says belongs to the event above it. */
function addComment(markers: Marker[], comment: string): void {
  const marker = markers[markers.length - 1]
  if (!marker) return
  const colon = comment.indexOf(':')
  const key = colon > 0 && colon <= 24 ? comment.slice(0, colon).trim().toUpperCase() : ''
  const value = key ? comment.slice(colon + 1).trim() : comment
  const set = (change: Partial<Marker>): void => {
    markers[markers.length - 1] = { ...marker, ...change }
  }
  if (key === 'LENGTH' && value === 'INSTANT') set({ endS: null })
  else if (key === 'KIND' || key === 'WEIGHT') set({ tags: { ...marker.tags, [key.toLowerCase()]: value } })
  else if (key === 'NAME' || (/NAME$/.test(key) && marker.name === '')) set({ name: value })
  else if (marker.name === '' && key !== 'NOTE') set({ name: value })
  else set({ note: marker.note === '' ? value : `${marker.note} ${value}` })
}

function fromTheHour(markers: readonly Marker[]): { markers: readonly Marker[]; problems: readonly MarkerProblem[] } {
  const hours = hoursBefore(markers.map(({ startS }) => startS))
  if (hours === 0) return { markers, problems: [] }
  const byS = hoursInS(hours)
  return {
    markers: markers.map((marker) => ({
      ...marker,
      startS: marker.startS - byS,
      endS: marker.endS === null ? null : marker.endS - byS,
    })),
    problems: [{ line: 0, words: hoursWords(hours) }],
  }
}
