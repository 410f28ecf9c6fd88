/** Values of OpenTimelineIO's JSON that markers and timelines share. */
export type Json = Readonly<Record<string, unknown>>

/** Where our own values lie among the metadata of what we write. */
export const OTIO_METADATA_KEY = 'good_thud'

/** Deeper nesting than this is not gone into. */
export const OTIO_DEEPEST = 32

interface RationalTime {
  readonly OTIO_SCHEMA: 'RationalTime.1'
  readonly rate: number
  readonly value: number
}

export function rational(timeS: number, rate: number): RationalTime {
  // Ours may lie between frames; the value of a rational time may too.
  return { OTIO_SCHEMA: 'RationalTime.1', rate, value: Number((timeS * rate).toFixed(6)) }
}

export function timeRange(startS: number, durationS: number, rate: number) {
  return {
    OTIO_SCHEMA: 'TimeRange.1',
    start_time: rational(startS, rate),
    duration: rational(durationS, rate),
  }
}

/** A timeline as a file. @param rangeOfAll What of the whole is meant; null for all of it. */
export function otioTimeline(
  title: string,
  {
    rangeOfAll,
    markers,
    tracks,
  }: { readonly rangeOfAll: object | null; readonly markers: object[]; readonly tracks: object[] },
): string {
  const timeline = {
    OTIO_SCHEMA: 'Timeline.1',
    name: title,
    global_start_time: null,
    metadata: {},
    tracks: {
      OTIO_SCHEMA: 'Stack.1',
      name: 'tracks',
      source_range: rangeOfAll,
      effects: [],
      markers,
      metadata: {},
      children: tracks,
    },
  }
  return `${JSON.stringify(timeline, null, 2)}\n`
}

/** What an item is, whatever the version of its schema: "Clip", "Gap"; empty for what names none. */
export function otioKind(item: Json | undefined): string {
  return typeof item?.OTIO_SCHEMA === 'string' ? (item.OTIO_SCHEMA.split('.')[0] as string) : ''
}

export function isObject(value: unknown): value is Json {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

/** Seconds of a rational time; null for what is none. */
export function secondsOf(value: unknown): number | null {
  if (!isObject(value) || typeof value.value !== 'number' || typeof value.rate !== 'number' || !(value.rate > 0))
    return null
  return value.value / value.rate
}

/** A time range in seconds; null for what is none. */
export function rangeInS(value: unknown): { startS: number; durationS: number } | null {
  if (!isObject(value)) return null
  const [startS, durationS] = [secondsOf(value.start_time), secondsOf(value.duration)]
  return startS === null || durationS === null ? null : { startS, durationS }
}

/** The outermost object of a file of this kind; null for any other. */
export function otioRoot(text: string): Json | null {
  let root: unknown
  try {
    root = JSON.parse(text.replace(/^\uFEFF/, ''))
  } catch {
    return null
  }
  return isObject(root) && typeof root.OTIO_SCHEMA === 'string' ? root : null
}
