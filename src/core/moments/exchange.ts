import {
  type Marker,
  type MarkerProblem,
  type MarkersRead,
  markersFromCsv,
  markersFromEdl,
  markersFromOtio,
  markersFromPlainList,
  markersFromWebVtt,
  markersToCsv,
  markersToEdl,
  markersToOtio,
  markersToPlainList,
  markersToWebVtt,
} from '../formats/markers'
import { type FrameRate, frameS } from '../formats/timecode'
import { moments as messages } from '../wording/moments'
import type { MomentsEdit } from './edits'
import {
  MOMENT_KINDS,
  MOMENT_LIMITS,
  MOMENT_WEIGHTS,
  type Moment,
  type MomentsDocument,
  type MomentValues,
  newMoment,
} from './moment'

/** Formats in which moments come and go. */
export const MOMENT_FORMATS = ['csv', 'vtt', 'edl', 'otio', 'txt'] as const
export type MomentFormat = (typeof MOMENT_FORMATS)[number]

/** What a file of moments counts by. */
export interface FormatContext {
  readonly title: string
  readonly rate: FrameRate
  /** Whether timecode drops numbers. */
  readonly drop: boolean
  readonly durationS: number
}

/** Moments as the markers of any format. */
export function momentMarkers(moments: readonly Moment[]): Marker[] {
  return moments.map(({ atS, endS, words, note, kind, weight }) => ({
    startS: atS,
    endS,
    name: words,
    note,
    tags: { kind, weight },
  }))
}

/** Moments as a file. */
export function momentsAs(format: MomentFormat, moments: readonly Moment[], context: FormatContext): string {
  const markers = momentMarkers(moments)
  const { rate, drop } = context
  switch (format) {
    case 'csv':
      return markersToCsv(markers, rate, drop)
    case 'vtt':
      return markersToWebVtt(markers)
    case 'edl':
      return markersToEdl(markers, context)
    case 'otio':
      return markersToOtio(markers, context)
    case 'txt':
      return markersToPlainList(markers, rate, drop)
  }
}

/** Reads a file of moments in whichever format it is. @returns Null for what is none of them. */
export function markersIn(
  text: string,
  { rate, drop }: Pick<FormatContext, 'rate' | 'drop'>,
): (MarkersRead & { readonly format: MomentFormat }) | null {
  const tries: readonly (readonly [MomentFormat, () => MarkersRead | null])[] = [
    ['otio', () => markersFromOtio(text)],
    ['vtt', () => markersFromWebVtt(text)],
    ['edl', () => markersFromEdl(text, rate)],
    ['csv', () => markersFromCsv(text, rate, drop)],
    ['txt', () => markersFromPlainList(text, rate, drop)],
  ]
  for (const [format, read] of tries) {
    const found = read()
    if (found) return { ...found, format }
  }
  return null
}

/** What taking in a file would do. */
export interface ImportPlan {
  readonly added: readonly Moment[]
  readonly changed: readonly { readonly id: string; readonly before: Moment; readonly to: Partial<MomentValues> }[]
  readonly unchanged: number
  readonly skipped: readonly MarkerProblem[]
  readonly edit: MomentsEdit
}

/** Length of the cut may be passed by rounding, s. */
const END_TOLERANCE_S = 0.05

/**
 * Plans what becomes of the markers of a file: what stands at the same time is changed, all else is added; what cannot be is skipped, each
 * with the reason.
 *
 * @param newId Gives an id that is not taken.
 */
export function importPlan(
  document: MomentsDocument,
  read: MarkersRead,
  { durationS, rate, newId }: { durationS: number; rate: FrameRate; newId: () => string },
): ImportPlan {
  const skipped: MarkerProblem[] = [...read.problems]
  const added: Moment[] = []
  const changed: ImportPlan['changed'][number][] = []
  let unchanged = 0
  const nearS = frameS(rate) / 2
  const taken = new Set<string>()
  const room = MOMENT_LIMITS.moments - document.moments.length
  let tooMany = 0
  for (const marker of read.markers) {
    const values = valuesOf(marker, durationS)
    if (typeof values === 'string') {
      skipped.push({ line: marker.line ?? 0, words: values })
      continue
    }
    const there = document.moments
      .filter(({ id, atS }) => !taken.has(id) && Math.abs(atS - values.atS) <= nearS)
      .sort((a, b) => Number(b.words === values.words) - Number(a.words === values.words))[0]
    if (there) {
      taken.add(there.id)
      const to = differences(there, values, marker, nearS)
      if (Object.keys(to).length === 0) unchanged++
      else changed.push({ id: there.id, before: there, to })
    } else if (added.length < room) added.push(newMoment(newId(), values.atS, values))
    else tooMany++
  }
  if (tooMany > 0)
    skipped.unshift({
      line: 0,
      words: messages.videoHasAtMostMomentsFind(
        MOMENT_LIMITS.moments.toLocaleString('en-GB'),
        tooMany.toLocaleString('en-GB'),
      ),
    })
  const changes = changed.map(({ id, to }) => ({ id, to }))
  const edits: MomentsEdit[] = []
  if (added.length > 0) edits.push({ do: 'add', moments: added })
  if (changes.length > 0) edits.push({ do: 'change', changes })
  skipped.sort((a, b) => a.line - b.line)
  return { added, changed, unchanged, skipped, edit: { do: 'all', edits } }
}

/** Values of a marker as a moment has them, or why it cannot be one. */
function valuesOf(
  marker: Marker,
  durationS: number,
): (Partial<MomentValues> & { atS: number; words: string }) | string {
  const { startS, endS, name, note, tags } = marker
  const called = name ? `“${name.slice(0, 40)}”` : messages.it
  if (startS < 0) return `${called} lies before the start of the cut (${startS.toFixed(2)} s).`
  if (startS > durationS + END_TOLERANCE_S)
    return `${called} lies at ${startS.toFixed(1)} s, behind the end of the cut (${durationS.toFixed(1)} s).`
  if (endS !== null && endS < startS) return messages.endsBeforeItBegins(called)
  const kind = MOMENT_KINDS.find((one) => one === tags.kind?.trim().toLowerCase())
  const weight = MOMENT_WEIGHTS.find((one) => one === tags.weight?.trim().toLowerCase())
  const words = name.slice(0, MOMENT_LIMITS.wordsLength)
  // What does not fit goes into the note: nothing is lost.
  const fullNote = (words.length < name.length ? `${name}\n${note}` : note).slice(0, MOMENT_LIMITS.noteLength)
  return {
    atS: startS,
    endS: endS === null ? null : Math.min(endS, Math.max(startS, durationS)),
    words,
    note: fullNote,
    ...(kind ? { kind } : {}),
    ...(weight ? { weight } : {}),
  }
}

/** What a marker says otherwise than the moment that stands there. What it does not say is not changed. */
function differences(
  there: Moment,
  values: Partial<MomentValues>,
  { name, note }: Marker,
  nearS: number,
): Partial<MomentValues> {
  const to: { -readonly [K in keyof MomentValues]?: MomentValues[K] } = {}
  if (name !== '' && values.words !== undefined && values.words !== there.words) to.words = values.words
  if (note !== '' && values.note !== undefined && values.note !== there.note) to.note = values.note
  if (values.kind && values.kind !== there.kind) to.kind = values.kind
  if (values.weight && values.weight !== there.weight) to.weight = values.weight
  const [before, after] = [there.endS, values.endS ?? null]
  if ((before === null) !== (after === null) || (before !== null && after !== null && Math.abs(before - after) > nearS))
    to.endS = after
  return to
}
