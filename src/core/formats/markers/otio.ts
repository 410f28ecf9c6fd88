import { formats as messages } from '../../wording/formats'
import {
  isObject,
  type Json,
  OTIO_DEEPEST,
  OTIO_METADATA_KEY,
  otioKind,
  otioRoot,
  otioTimeline,
  rangeInS,
  timeRange,
} from '../otio'
import { type FrameRate, framesPerS } from '../timecode'
import { boundedMarkers, type Marker, type MarkerProblem, type MarkersRead } from './marker'

/** Writes markers as a timeline of OpenTimelineIO (JSON) whose stack has them. @param durationS Length of the cut. */
export function markersToOtio(
  markers: readonly Marker[],
  { title, rate, durationS }: { title: string; rate: FrameRate; durationS: number },
): string {
  return otioTimeline(title, {
    rangeOfAll: timeRange(0, durationS, framesPerS(rate)),
    markers: otioMarkers(markers, rate),
    tracks: [],
  })
}

/** Markers as they hang on an item of a timeline. */
export function otioMarkers(markers: readonly Marker[], rate: FrameRate): object[] {
  const perS = framesPerS(rate)
  return markers.map(({ startS, endS, name, note, tags }) => ({
    OTIO_SCHEMA: 'Marker.2',
    name,
    comment: note,
    color: null,
    marked_range: timeRange(startS, (endS ?? startS) - startS, perS),
    metadata: { [OTIO_METADATA_KEY]: { ...tags, instant: endS === null } },
  }))
}

/** Reads the markers of a timeline, wherever they hang in it, at their times in the whole. @returns Null for what is no such file. */
export function markersFromOtio(text: string): MarkersRead | null {
  const root = otioRoot(text)
  if (!root) return null
  const markers: Marker[] = []
  const problems: MarkerProblem[] = []
  gather(isObject(root.tracks) ? root.tracks : root, 0, 0, { markers, problems })
  return boundedMarkers(
    [...markers].sort((a, b) => a.startS - b.startS),
    problems,
  )
}

interface Gathered {
  readonly markers: Marker[]
  readonly problems: MarkerProblem[]
}

/** @param atS Where the item begins in the whole, s. @returns Its length, s. */
function gather(item: Json, atS: number, depth: number, into: Gathered): number {
  if (depth > OTIO_DEEPEST) {
    if (!into.problems.some(({ words }) => words.includes('nested')))
      into.problems.push({ line: 0, words: messages.partsThatAreNestedMore(OTIO_DEEPEST) })
    return 0
  }
  const source =
    rangeInS(item.source_range) ??
    rangeInS(isObject(item.media_reference) ? item.media_reference.available_range : null)
  const trimmedS = source?.startS ?? 0
  for (const marker of Array.isArray(item.markers) ? item.markers : [])
    if (isObject(marker)) addMarker(marker, atS - trimmedS, into)
  const isSequence = otioKind(item) === 'Track'
  let lengthS = 0
  for (const child of Array.isArray(item.children) ? item.children : []) {
    if (!isObject(child)) continue
    // Transitions lie over their neighbours and take no time of their own.
    if (otioKind(child) === 'Transition') continue
    const childS = gather(child, atS - trimmedS + (isSequence ? lengthS : 0), depth + 1, into)
    lengthS = isSequence ? lengthS + childS : Math.max(lengthS, childS)
  }
  return source?.durationS ?? lengthS
}

function addMarker(marker: Json, offsetS: number, { markers, problems }: Gathered): void {
  const marked = rangeInS(marker.marked_range)
  const name = typeof marker.name === 'string' ? marker.name : ''
  if (!marked) {
    problems.push({ line: 0, words: messages.theMarkerHasNoTime(name.slice(0, 40)) })
    return
  }
  const metadata = isObject(marker.metadata) ? marker.metadata[OTIO_METADATA_KEY] : null
  const own = isObject(metadata) ? metadata : {}
  const tags: Record<string, string> = {}
  for (const key of ['kind', 'weight']) if (typeof own[key] === 'string') tags[key] = own[key] as string
  const isInstant = own.instant === true || (own.instant === undefined && marked.durationS <= 0)
  const startS = offsetS + marked.startS
  markers.push({
    startS,
    endS: isInstant ? null : startS + Math.max(0, marked.durationS),
    name,
    note: typeof marker.comment === 'string' ? marker.comment : '',
    tags,
  })
}
