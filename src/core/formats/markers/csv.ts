import { csvFormatRows, csvParseRows } from 'd3-dsv'
import { formats as messages } from '../../wording/formats'
import { type FrameRate, frameAt, frameOfTimecode, frameStartS, secondsOfClock, timecodeOf } from '../timecode'
import { boundedMarkers, type Marker, type MarkerProblem, type MarkersRead } from './marker'

const COLUMNS = ['start_s', 'end_s', 'start_timecode', 'end_timecode', 'name', 'kind', 'weight', 'note'] as const
/** Letters with which spreadsheets begin a formula. */
const FORMULA = /^[=+\-@\t\r]/

/** Other names that columns have elsewhere, in lower case. */
const ALSO_CALLED: Readonly<Record<string, (typeof COLUMNS)[number]>> = {
  start: 'start_s',
  in: 'start_s',
  time: 'start_s',
  from: 'start_s',
  end: 'end_s',
  out: 'end_s',
  to: 'end_s',
  timecode: 'start_timecode',
  words: 'name',
  title: 'name',
  marker: 'name',
  text: 'name',
  description: 'note',
  comment: 'note',
  notes: 'note',
  importance: 'weight',
}

/** Writes markers as CSV (RFC 4180), with a header, seconds and timecode. */
export function markersToCsv(markers: readonly Marker[], rate: FrameRate, drop: boolean): string {
  const timecode = (timeS: number | null): string =>
    timeS === null ? '' : timecodeOf(frameAt(timeS, rate), rate, drop)
  const rows = markers.map(({ startS, endS, name, note, tags }) => [
    exact(startS),
    endS === null ? '' : exact(endS),
    timecode(startS),
    timecode(endS),
    guarded(name),
    tags.kind ?? '',
    tags.weight ?? '',
    guarded(note),
  ])
  return `${csvFormatRows([[...COLUMNS], ...rows])}\n`
}

/** As many digits as tell times apart. */
function exact(timeS: number): string {
  return String(Number(timeS.toFixed(6)))
}

/** A text that a spreadsheet would take for a formula gets an apostrophe, which reading takes off again. */
function guarded(text: string): string {
  return FORMULA.test(text) || text.startsWith("'") ? `'${text}` : text
}

function unguarded(text: string): string {
  return text.startsWith("'") ? text.slice(1) : text
}

/**
 * Reads markers from CSV. The first row names the columns, in any order; a start is needed, as seconds, "1:02.5" or timecode.
 *
 * @param rate Of timecodes. @returns Null for what has no such columns.
 */
export function markersFromCsv(text: string, rate: FrameRate, drop: boolean): MarkersRead | null {
  const plain = text.replace(/^\uFEFF/, '')
  // Some spreadsheets write semicolons.
  const firstLine = plain.slice(0, plain.indexOf('\n') < 0 ? undefined : plain.indexOf('\n'))
  const rows = csvParseRows(firstLine.includes(';') && !firstLine.includes(',') ? semicolonsToCommas(plain) : plain)
  const header = rows[0]?.map((cell) => cell.trim().toLowerCase()) ?? []
  const columns = new Map<string, number>()
  for (const [index, cell] of header.entries()) {
    const name = COLUMNS.find((one) => one === cell) ?? ALSO_CALLED[cell]
    if (name && !columns.has(name)) columns.set(name, index)
  }
  if (!columns.has('start_s') && !columns.has('start_timecode')) return null
  const markers: Marker[] = []
  const problems: MarkerProblem[] = []
  for (const [index, row] of rows.slice(1).entries()) {
    const cell = (name: (typeof COLUMNS)[number]): string => row[columns.get(name) ?? -1] ?? ''
    if (row.every((value) => value.trim() === '')) continue
    const time = (seconds: string, timecode: string): number | null =>
      seconds.trim() !== '' ? timeOf(seconds, rate, drop) : timecode.trim() !== '' ? timeOf(timecode, rate, drop) : null
    const startS = time(cell('start_s'), cell('start_timecode'))
    if (startS === null) {
      const what = cell('start_s') || cell('start_timecode')
      problems.push({ line: index + 2, words: what ? messages.isNoTime(what.slice(0, 40)) : messages.thereIsNoStart })
      continue
    }
    const tags: Record<string, string> = {}
    if (cell('kind')) tags.kind = cell('kind')
    if (cell('weight')) tags.weight = cell('weight')
    markers.push({
      startS,
      endS: time(cell('end_s'), cell('end_timecode')),
      name: unguarded(cell('name')),
      note: unguarded(cell('note')),
      tags,
      line: index + 2,
    })
  }
  return boundedMarkers(markers, problems)
}

/** Semicolons outside of quotes become commas; commas of numbers become points, which the reader of times takes too. */
function semicolonsToCommas(text: string): string {
  let isQuoted = false
  let out = ''
  for (const letter of text) {
    if (letter === '"') isQuoted = !isQuoted
    out += isQuoted || letter === '"' ? letter : letter === ';' ? ',' : letter === ',' ? '.' : letter
  }
  return out
}

/** Seconds, a clock time or timecode. */
export function timeOf(text: string, rate: FrameRate, drop: boolean): number | null {
  const seconds = secondsOfClock(text)
  if (seconds !== null) return seconds
  const timecode = frameOfTimecode(text, rate, drop)
  return 'frame' in timecode ? frameStartS(timecode.frame, rate) : null
}
