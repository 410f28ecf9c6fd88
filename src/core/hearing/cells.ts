import { Fft } from '../audio/fft'
import { HEARING_RATE_HZ } from './constants'

/** Window and hop of the grid on which a place is verified: 64 ms windows every 16 ms. */
export const CELL_SIZE = 1024
export const CELL_HOP = 256
/** Bands of equal ratio between 60 Hz and 7.5 kHz, in which evidence is gathered. */
export const CELL_BANDS = 12
const BAND_LOW_HZ = 60
const BAND_HIGH_HZ = 7500

/** Where a band begins (and the one before it ends), Hz. */
export function bandEdgeHz(band: number): number {
  return BAND_LOW_HZ * (BAND_HIGH_HZ / BAND_LOW_HZ) ** (band / CELL_BANDS)
}

/** Short-time spectra: `frames` rows of `BIN_COUNT` bins, from `FIRST_BIN`. */
export interface Cells {
  readonly frames: number
  readonly re: Float32Array
  readonly im: Float32Array
}

export const FIRST_BIN = Math.round((BAND_LOW_HZ * CELL_SIZE) / HEARING_RATE_HZ)
const LAST_BIN = Math.round((BAND_HIGH_HZ * CELL_SIZE) / HEARING_RATE_HZ)
export const BIN_COUNT = LAST_BIN - FIRST_BIN

/** First bin of each band, relative to FIRST_BIN, and one past the last. Low bands are at least two bins wide. */
export const BAND_STARTS: readonly number[] = bandStarts()

function bandStarts(): number[] {
  const starts = [0]
  for (let band = 1; band <= CELL_BANDS; band++) {
    const bin = Math.round((bandEdgeHz(band) * CELL_SIZE) / HEARING_RATE_HZ) - FIRST_BIN
    starts.push(Math.min(BIN_COUNT, Math.max((starts[band - 1] as number) + 2, bin)))
  }
  starts[CELL_BANDS] = BIN_COUNT
  return starts
}

/** The Hann window of a cell. */
export const CELL_WINDOW = Float32Array.from(
  { length: CELL_SIZE },
  (_, n) => Math.sin((Math.PI * (n + 0.5)) / CELL_SIZE) ** 2,
)
/** What scales |X|^2 of a windowed cell so that all bins of full-scale noise have power 1: the window's energy is three eighths of its length. */
export const CELL_POWER_UNIT = 2 / (CELL_SIZE * CELL_SIZE * 0.375)

/** Sum of the powers of a spectrum of `CELL_SIZE` in one band. @param powers From bin 0 on. */
export function bandPower(powers: Float32Array, band: number): number {
  const end = FIRST_BIN + (BAND_STARTS[band + 1] as number)
  let sum = 0
  for (let k = FIRST_BIN + (BAND_STARTS[band] as number); k < end; k++) sum += powers[k] as number
  return sum
}

/** Number of frames that cover a clip. */
export function cellFrames(lengthFrames: number): number {
  return Math.max(1, Math.ceil(lengthFrames / CELL_HOP))
}

/** Computes cells. One instance a thread: it owns its buffers. */
export class CellTransform {
  private readonly fft = new Fft(CELL_SIZE)
  private readonly re = new Float32Array(CELL_SIZE)
  private readonly im = new Float32Array(CELL_SIZE)
  private readonly both = { re: this.re, im: this.im }

  /** Cells of `samples` from `start` on (may be negative: outside is silence); frame f is centred on start + f x hop + hop / 2. */
  cells(samples: Float32Array, start: number, frames: number): Cells {
    const re = new Float32Array(frames * BIN_COUNT)
    const im = new Float32Array(frames * BIN_COUNT)
    for (let frame = 0; frame < frames; frame += 2) {
      this.pair(samples, start + frame * CELL_HOP)
      this.split(re, im, frame, frame + 1 < frames)
    }
    return { frames, re, im }
  }

  /**
   * Transforms two frames at once, the first beginning its hop at `start`, the second one hop later.
   *
   * @returns Their common spectrum, in arrays that the next call overwrites: with m = size - k, the first frame has
   *   (re[k] + re[m], im[k] - im[m]) / 2 and the second (im[k] + im[m], re[m] - re[k]) / 2 at bin k.
   */
  pair(samples: Float32Array, start: number): { readonly re: Float32Array; readonly im: Float32Array } {
    const first = start + CELL_HOP / 2 - CELL_SIZE / 2
    this.fft.forwardFrames(this.re, this.im, samples, { first, second: first + CELL_HOP, window: CELL_WINDOW })
    return this.both
  }

  private split(re: Float32Array, im: Float32Array, frame: number, both: boolean): void {
    const { re: bothRe, im: bothIm } = this
    for (let bin = 0; bin < BIN_COUNT; bin++) {
      const k = bin + FIRST_BIN
      const m = CELL_SIZE - k
      const zr = bothRe[k] as number
      const zi = bothIm[k] as number
      const yr = bothRe[m] as number
      const yi = bothIm[m] as number
      const at = frame * BIN_COUNT + bin
      re[at] = (zr + yr) / 2
      im[at] = (zi - yi) / 2
      if (!both) continue
      re[at + BIN_COUNT] = (zi + yi) / 2
      im[at + BIN_COUNT] = (yr - zr) / 2
    }
  }
}
