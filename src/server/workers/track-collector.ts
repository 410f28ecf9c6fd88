import { type Loudness, LoudnessMeter, Resampler } from '../../core/audio'
import { HEARING_RATE_HZ } from '../../core/hearing'

/** Columns of the stored waveform a second: a 4 K wide map of a 40 s video has one for each pixel. */
const WAVEFORM_COLUMNS_PER_S = 100

/** Gathers what is kept of a decoded track: mono at the hearing rate, loudness, waveform. */
export class TrackCollector {
  private resampler: Resampler | null = null
  private meter: LoudnessMeter | null = null
  private readonly parts: Float32Array[] = []
  private readonly columns: number[] = []
  private columnFrames = 0
  private low = 0
  private high = 0
  private sampleRateHz = 0

  push(channels: readonly Float32Array[], sampleRateHz: number): void {
    if (!this.meter) {
      this.sampleRateHz = sampleRateHz
      this.meter = new LoudnessMeter(channels.length, sampleRateHz)
      this.resampler = new Resampler({ fromHz: sampleRateHz, toHz: HEARING_RATE_HZ })
    }
    this.meter.push(channels)
    const mono = mixedDown(channels)
    this.measureColumns(mono)
    this.parts.push((this.resampler as Resampler).push(mono))
  }

  /** Mono at the hearing rate, in shared memory. Call once, at the end. */
  samples(): SharedArrayBuffer {
    if (this.resampler) this.parts.push(this.resampler.flush())
    const length = this.parts.reduce((sum, part) => sum + part.length, 0)
    const shared = new SharedArrayBuffer(4 * length)
    const all = new Float32Array(shared)
    let at = 0
    for (const part of this.parts) {
      all.set(part, at)
      at += part.length
    }
    return shared
  }

  loudness(): Loudness {
    return this.meter?.result() ?? { integratedLufs: null, truePeakDbtp: null, momentaryLufs: new Float32Array(0) }
  }

  waveform(): Int8Array {
    return Int8Array.from(this.columnFrames > 0 ? [...this.columns, this.low, this.high] : this.columns)
  }

  private measureColumns(mono: Float32Array): void {
    const framesEach = this.sampleRateHz / WAVEFORM_COLUMNS_PER_S
    for (let i = 0; i < mono.length; i++) {
      const value = Math.round(Math.max(-1, Math.min(1, mono[i] as number)) * 127)
      if (this.columnFrames === 0 || value < this.low) this.low = value
      if (this.columnFrames === 0 || value > this.high) this.high = value
      this.columnFrames++
      if (this.columnFrames >= framesEach) {
        this.columns.push(this.low, this.high)
        this.columnFrames = 0
      }
    }
  }
}

/** Mean of the channels: a mono sound laid on both sides keeps its level. */
export function mixedDown(channels: readonly Float32Array[]): Float32Array {
  const [left, right] = channels as [Float32Array, Float32Array | undefined]
  return right ? left.map((value, i) => 0.5 * (value + (right[i] as number))) : left
}
