import { LoudnessMeter } from '../../core/audio'

/** What a mix sounds like now. */
export interface MixLevels {
  /** Over the last three seconds, LUFS; null while it is silent. */
  readonly shortTermLufs: number | null
  /** Over all that was played since the start, LUFS. */
  readonly integratedLufs: number | null
  readonly truePeakDbtp: number | null
  /** -1 to 1: how alike both sides are; 0 for silence. */
  readonly correlation: number
  readonly mostLimitedDb: number
}

const SILENT_LUFS = -70
const CORRELATION_MEMORY = 0.8

/** Measures what is played. */
export class MixMeter {
  private readonly meter: LoudnessMeter
  private both = 0
  private left = 0
  private right = 0

  constructor(sampleRateHz: number) {
    this.meter = new LoudnessMeter(2, sampleRateHz)
  }

  /** Takes what was played next. */
  push(left: Float32Array, right: Float32Array): void {
    this.meter.push([left, right])
    this.both *= CORRELATION_MEMORY
    this.left *= CORRELATION_MEMORY
    this.right *= CORRELATION_MEMORY
    for (let n = 0; n < left.length; n++) {
      const [a, b] = [left[n] as number, right[n] as number]
      this.both += a * b
      this.left += a * a
      this.right += b * b
    }
  }

  levels(mostLimitedDb: number): MixLevels {
    const { integratedLufs, truePeakDbtp, shortTermLufs } = this.meter.result()
    const last = shortTermLufs[shortTermLufs.length - 1]
    const power = Math.sqrt(this.left * this.right)
    return {
      shortTermLufs: last === undefined || last < SILENT_LUFS ? null : last,
      integratedLufs,
      truePeakDbtp,
      correlation: power > 1e-9 ? this.both / power : 0,
      mostLimitedDb,
    }
  }
}
