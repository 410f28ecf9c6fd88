import { HEARING_RATE_HZ } from '../../core/hearing'
import { MAX_TRACK_S } from '../media/decoder'

/** Shared memory of a channel grows by at least this many frames (one minute). */
export const GROW_FRAMES = 60 * HEARING_RATE_HZ

/** Shared memory that can grow; the type library for it is younger than the one in use. */
export type GrowableBuffer = SharedArrayBuffer & {
  readonly growable: boolean
  readonly maxByteLength: number
  grow(bytes: number): void
}
export const GrowableBuffer = SharedArrayBuffer as unknown as new (
  bytes: number,
  options: { maxByteLength: number },
) => GrowableBuffer

/** Memory that a track is decoded into while others already read it. */
export interface TrackMemory {
  readonly mid: SharedArrayBuffer
  readonly side: SharedArrayBuffer
  /** Two 32-bit numbers: frames of the middle that are there, and 1 once no more will come. */
  readonly ready: SharedArrayBuffer
}

export function trackMemory(): TrackMemory {
  const channel = (): SharedArrayBuffer =>
    new GrowableBuffer(0, { maxByteLength: 2 * HEARING_RATE_HZ * (MAX_TRACK_S + 60) })
  return { mid: channel(), side: channel(), ready: new SharedArrayBuffer(8) }
}

/** Says that no more will come: the track is whole, or its decoding has failed. Wakes those that wait. */
export function endTrack({ ready }: TrackMemory): void {
  const numbers = new Int32Array(ready)
  Atomics.store(numbers, 1, 1)
  Atomics.notify(numbers, 0)
}

/** How many frames of the middle are there. */
export function framesReady({ ready }: TrackMemory): number {
  return Atomics.load(new Int32Array(ready), 0)
}

/** Blocks this thread until so many frames are there or no more will come. @returns How many there are, and whether that is all. */
export function waitForFrames(
  { ready }: TrackMemory,
  frames: number,
): { readonly frames: number; readonly all: boolean } {
  const numbers = new Int32Array(ready)
  for (;;) {
    const all = Atomics.load(numbers, 1) === 1
    const there = Atomics.load(numbers, 0)
    if (all || there >= frames) return { frames: there, all }
    // Also looks now and then: the end is told apart from the frames.
    Atomics.wait(numbers, 0, there, 200)
  }
}
