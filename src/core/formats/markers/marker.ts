import { formats as messages } from '../../wording/formats'

/** A marked time or span with a name, as every format of markers has it. */
export interface Marker {
  readonly startS: number
  /** Null for an instant. */
  readonly endS: number | null
  readonly name: string
  readonly note: string
  /** What else is said, by key: "kind", "weight". */
  readonly tags: Readonly<Record<string, string>>
  /** Line of the file that it was read from, from 1; absent where a format has no lines to speak of. */
  readonly line?: number
}

/** A place of a file that could not be read. */
export interface MarkerProblem {
  /** From 1; 0 where it is about the whole file. */
  readonly line: number
  readonly words: string
}

/** What was read of a file. Times may be negative or lie behind the end: whoever takes them in looks at that. */
export interface MarkersRead {
  readonly markers: readonly Marker[]
  readonly problems: readonly MarkerProblem[]
}

/** More markers than this are not read from one file. */
export const MARKERS_MAX = 10_000

/** What was read, cut off where it is too much, with a sentence that says so. */
export function boundedMarkers(markers: readonly Marker[], problems: readonly MarkerProblem[]): MarkersRead {
  if (markers.length <= MARKERS_MAX) return { markers, problems }
  const words = messages.fileHasEntriesFirstWere(
    markers.length.toLocaleString('en-GB'),
    MARKERS_MAX.toLocaleString('en-GB'),
  )
  return { markers: markers.slice(0, MARKERS_MAX), problems: [{ line: 0, words }, ...problems] }
}

/** One line of text: breaks and runs of blanks become one blank. */
export function oneLine(text: string): string {
  return text.replace(/\s+/g, ' ').trim()
}
