import { type Loudness, LoudnessMeter, Resampler } from '../../core/audio'
import { compand, compandSide, HEARING_RATE_HZ } from '../../core/hearing'
import type { SharedTrack } from './tasks'
import { GROW_FRAMES, type GrowableBuffer, type TrackMemory, trackMemory } from './track-memory'

/** Columns of the stored waveform a second: a 4 K wide map of a 40 s video has one for each pixel. */
const WAVEFORM_COLUMNS_PER_S = 100
/** How samples are companded, and into which numbers. */
interface Companding<Codes extends Int8Array | Int16Array> {
  readonly Codes: {
    new (length: number): Codes
    new (buffer: SharedArrayBuffer): Codes
    readonly BYTES_PER_ELEMENT: number
  }
  compand(samples: Float32Array, into: Codes, at: number): void
}

const MID: Companding<Int16Array> = { Codes: Int16Array, compand }
const SIDE: Companding<Int8Array> = { Codes: Int8Array, compand: compandSide }

/** Companded samples of one channel, in shared memory that grows as they come. */
class GrowingChannel<Codes extends Int8Array | Int16Array> {
  frames = 0
  silent = true
  private readonly buffer: GrowableBuffer

  constructor(
    buffer: SharedArrayBuffer,
    private readonly companding: Companding<Codes>,
  ) {
    this.buffer = buffer as GrowableBuffer
  }

  push(samples: Float32Array): void {
    const { Codes, compand } = this.companding
    const wanted = Codes.BYTES_PER_ELEMENT * (this.frames + samples.length)
    if (wanted > this.buffer.byteLength) this.buffer.grow(wanted + Codes.BYTES_PER_ELEMENT * GROW_FRAMES)
    // By way of an array of its own: single values are written slowly into memory that can grow.
    const codes = new Codes(samples.length)
    compand(samples, codes, 0)
    new Codes(this.buffer).set(codes, this.frames)
    this.frames += samples.length
    this.silent &&= codes.every((code) => code === 0)
  }
}

const NO_LOUDNESS: Loudness = {
  integratedLufs: null,
  truePeakDbtp: null,
  momentaryLufs: new Float32Array(0),
  shortTermLufs: new Float32Array(0),
  momentaryMaxLufs: null,
  shortTermMaxLufs: null,
  rangeLu: null,
}

/** Gathers what is stored of a decoded track: middle and side at the hearing rate, loudness, waveform. */
export class TrackCollector {
  private resamplers: readonly [Resampler, Resampler] | null = null
  private meter: LoudnessMeter | null = null
  private readonly mid: GrowingChannel<Int16Array>
  private readonly side: GrowingChannel<Int8Array>
  private readonly ready: Int32Array
  private stereo = false
  private readonly columns: number[] = []
  private columnFrames = 0
  private low = 0
  private high = 0
  private sampleRateHz = 0

  constructor(private readonly memory: TrackMemory = trackMemory()) {
    this.mid = new GrowingChannel(memory.mid, MID)
    this.side = new GrowingChannel(memory.side, SIDE)
    this.ready = new Int32Array(memory.ready)
  }

  push(channels: readonly Float32Array[], sampleRateHz: number): void {
    if (!this.meter || !this.resamplers) {
      this.sampleRateHz = sampleRateHz
      this.meter = new LoudnessMeter(channels.length, sampleRateHz)
      const rates = { fromHz: sampleRateHz, toHz: HEARING_RATE_HZ }
      this.resamplers = [new Resampler(rates), new Resampler(rates)]
    }
    this.meter.push(channels)
    const mono = mixedDown(channels)
    this.measureColumns(mono)
    this.mid.push(this.resamplers[0].push(mono))
    this.tellFrames()
    if (channels.length < 2) return
    this.stereo = true
    this.side.push(this.resamplers[1].push(sideOf(channels)))
  }

  /** The track at the hearing rate. Call once, at the end. */
  track(): SharedTrack {
    if (this.resamplers) {
      this.mid.push(this.resamplers[0].flush())
      if (this.stereo) this.side.push(this.resamplers[1].flush())
    }
    this.tellFrames()
    // A buffer of fixed length costs a copy; the growable ones are handed on as they are.
    return { mid: this.memory.mid, side: this.side.silent ? null : this.memory.side, frames: this.mid.frames }
  }

  private tellFrames(): void {
    Atomics.store(this.ready, 0, this.mid.frames)
    Atomics.notify(this.ready, 0)
  }

  loudness(): Loudness {
    return this.meter?.result() ?? NO_LOUDNESS
  }

  waveform(): Int8Array {
    if (this.columnFrames > 0) this.endColumn()
    return Int8Array.from(this.columns)
  }

  private endColumn(): void {
    this.columns.push(Math.round(this.low * 127), Math.round(this.high * 127))
    this.columnFrames = 0
  }

  private measureColumns(mono: Float32Array): void {
    const framesEach = this.sampleRateHz / WAVEFORM_COLUMNS_PER_S
    for (let from = 0; from < mono.length; ) {
      const to = Math.min(mono.length, from + Math.ceil(framesEach - this.columnFrames))
      let low = this.columnFrames === 0 ? 1 : this.low
      let high = this.columnFrames === 0 ? -1 : this.high
      for (let i = from; i < to; i++) {
        const value = mono[i] as number
        if (value < low) low = value
        if (value > high) high = value
      }
      this.low = Math.max(-1, low)
      this.high = Math.min(1, high)
      this.columnFrames += to - from
      from = to
      if (this.columnFrames >= framesEach) this.endColumn()
    }
  }
}

/** Mean of the channels: a mono sound laid on both sides keeps its level. */
export function mixedDown(channels: readonly Float32Array[]): Float32Array {
  const [left, right] = channels as [Float32Array, Float32Array | undefined]
  return right ? blended(left, right, 0.5) : left
}

/** Half the difference of left and right. */
function sideOf(channels: readonly Float32Array[]): Float32Array {
  const [left, right] = channels as [Float32Array, Float32Array]
  return blended(left, right, -0.5)
}

function blended(left: Float32Array, right: Float32Array, rightGain: number): Float32Array {
  const out = new Float32Array(left.length)
  for (let i = 0; i < out.length; i++) out[i] = 0.5 * (left[i] as number) + rightGain * (right[i] as number)
  return out
}
