/** Values of OpenTimelineIO's JSON that markers and timelines share. */
export type Json = Readonly<Record<string, unknown>>

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
