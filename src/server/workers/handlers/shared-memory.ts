import { type PreparedWindow, spectraLength, Track, whitenedLength } from '../../../core/hearing'
import type { SharedTrack, SharedWindow } from '../tasks'

/** A track in shared memory as the core takes it. */
export function trackFrom({ mid, side, frames, isExchanged }: SharedTrack): Track {
  // The memory may be larger, by an odd number of bytes even: it grows as a track comes, and is used again for what is left of one.
  const track = new Track(new Int16Array(mid, 0, frames), side && new Int8Array(side, 0, frames), frames)
  return isExchanged ? track.exchanged() : track
}

/** A window in shared memory as the core takes it. */
export function windowFrom({
  start,
  frames,
  spectraRe,
  spectraIm,
  whitened,
  whitenedHalf,
}: SharedWindow): PreparedWindow {
  // The memory may be larger: it is shared by windows of all lengths.
  return {
    start,
    frames,
    spectraRe: new Float32Array(spectraRe, 0, spectraLength(frames)),
    spectraIm: new Float32Array(spectraIm, 0, spectraLength(frames)),
    whitened: new Float32Array(whitened, 0, whitenedLength(frames)),
    whitenedHalf: new Float32Array(whitenedHalf, 0, whitenedLength(frames) / 2),
  }
}
