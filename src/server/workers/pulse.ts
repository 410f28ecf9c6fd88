import { workers as messages } from '../../messages/server/workers'
import { MediaError } from '../media/decoder'

/** Memory over which a task tells how far it is: two 32-bit numbers, its stage and the milliseconds of sound that are decoded. */
export type Pulse = SharedArrayBuffer

/** Where a task is. */
export const STAGE = { waiting: 0, reading: 1, computing: 2 } as const

/** Memory that one thread may hold for decoded sound, bytes: a sound of ten minutes in stereo at 192 kHz takes 920 MB. */
const MAX_THREAD_BYTES = 1100 * 1024 * 1024

/** Decoders give small blocks, and asking how much is held takes longer than decoding one: it is asked after so many frames. */
const WEIGH_FRAMES = 250_000

export function newPulse(): Pulse {
  return new SharedArrayBuffer(8)
}

/** How far a task is. */
export function pulseState(pulse: Pulse): { readonly stage: number; readonly decodedMs: number } {
  const numbers = new Int32Array(pulse)
  return { stage: Atomics.load(numbers, 0), decodedMs: Atomics.load(numbers, 1) }
}

/** The side of a task: tells that it has begun, how much it has decoded, and that it goes on to compute. */
export class PulseTeller {
  private readonly numbers: Int32Array
  private decodedS = 0
  private unweighedFrames = 0

  /** @param pulse Left out where nobody watches. */
  constructor(pulse: Pulse = newPulse()) {
    this.numbers = new Int32Array(pulse)
    Atomics.store(this.numbers, 0, STAGE.reading)
  }

  /** @throws {MediaError} too-large, when this thread holds more than it may. */
  decoded(frames: number, sampleRateHz: number): void {
    this.decodedS += frames / sampleRateHz
    Atomics.store(this.numbers, 1, Math.round(1000 * this.decodedS))
    this.unweighedFrames += frames
    if (this.unweighedFrames < WEIGH_FRAMES) return
    this.unweighedFrames = 0
    if (process.memoryUsage().arrayBuffers > MAX_THREAD_BYTES) throw tooLarge()
  }

  computing(): void {
    Atomics.store(this.numbers, 0, STAGE.computing)
  }
}

/** The error of a file that takes more memory than a thread may have. */
export function tooLarge(cause?: unknown): MediaError {
  return new MediaError('too-large', messages.fileDamagedOrTooLarge, { cause })
}
