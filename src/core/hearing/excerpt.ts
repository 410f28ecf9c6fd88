import { HEARING_RATE_HZ } from './constants'
import { isLong, type PreparedSound } from './prepare'
import type { FrameRange } from './sums'

/** So much to both sides of what answered is looked at first, frames (3 s), and each time so many times as much. */
const FIRST_MARGIN_FRAMES = 3 * HEARING_RATE_HZ
const GROWTH = 3
/** What ends this near to where an excerpt was cut may go on beyond it, frames (0.25 s). */
const EDGE_FRAMES = 0.25 * HEARING_RATE_HZ

/** A stretch of a sound, as a sound. */
export interface Excerpt {
  readonly sound: PreparedSound
  /** Its first frame in the sound. */
  readonly start: number
}

/** What lies around some frames of a sound: of one that is not long, the sound itself. An excerpt has no pieces. */
export function excerptAround(sound: PreparedSound, { from, to }: FrameRange, marginFrames: number): Excerpt {
  if (!isLong(sound.samples)) return { sound, start: 0 }
  const start = Math.max(0, Math.floor(from - marginFrames))
  const end = Math.min(sound.samples.length, Math.ceil(to + marginFrames))
  return { sound: { ...sound, samples: sound.samples.subarray(start, end), pieces: [] }, start }
}

/**
 * What is heard of a sound around some frames of it. Of a long sound mostly a part is heard, and to hold all of it against the track at each place where a
 * second of it answers takes many times as long: it is looked at so far as it is heard.
 *
 * @param heardIn What is heard of an excerpt, in frames of the excerpt; null where nothing is.
 * @returns What is heard in the largest excerpt that was needed, in frames of the sound, and where that excerpt begins.
 */
export function heardAround<T extends FrameRange>(
  sound: PreparedSound,
  around: FrameRange,
  heardIn: (excerpt: Excerpt) => T | null,
): { readonly heard: T; readonly start: number } | null {
  let last: { readonly heard: T; readonly start: number } | null = null
  for (let marginFrames = FIRST_MARGIN_FRAMES; ; marginFrames *= GROWTH) {
    const excerpt = excerptAround(sound, around, marginFrames)
    const heard = heardIn(excerpt)
    if (!heard) return last
    const { start } = excerpt
    const end = start + excerpt.sound.samples.length
    last = { heard: { ...heard, from: heard.from + start, to: heard.to + start }, start }
    const goesOnBefore = start > 0 && heard.from < EDGE_FRAMES
    const goesOnAfter = end < sound.samples.length && last.heard.to > end - EDGE_FRAMES
    if (!goesOnBefore && !goesOnAfter) return last
  }
}
