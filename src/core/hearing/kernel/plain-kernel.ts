import { Fft } from '../../audio/fft'
import { BLOCK_ADVANCE, BLOCK_FRAMES, CHUNK_FRAMES } from '../constants'
import { dot } from '../products'
import { ANSWER_LAGS, type BlockKernel, type ChunkValues, type Halvings } from './block-kernel'

/** The reference: plain TypeScript, spectra in natural order. Owns its buffers, so one instance a thread. */
export class PlainKernel implements BlockKernel {
  readonly name = 'plain'
  private readonly ffts = [0, 1, 2].map((halvings) => new Fft(BLOCK_FRAMES >> halvings, false))
  private readonly pieceRe = new Float32Array(BLOCK_FRAMES)
  private readonly pieceIm = new Float32Array(BLOCK_FRAMES)
  private readonly re = new Float32Array(BLOCK_FRAMES)
  private readonly im = new Float32Array(BLOCK_FRAMES)
  private halvings: Halvings = 0
  private template: Float32Array = new Float32Array(0)

  transform(re: Float32Array, im: Float32Array, halvings: Halvings): void {
    this.ffts[halvings]?.forward(re, im)
  }

  loadPiece(samples: Float32Array, halvings: Halvings): void {
    const size = BLOCK_FRAMES >> halvings
    this.halvings = halvings
    const re = this.pieceRe.subarray(0, size).fill(0)
    const im = this.pieceIm.subarray(0, size).fill(0)
    re.set(samples)
    this.ffts[halvings]?.forward(re, im)
  }

  filterBlocks(trackRe: Float32Array, trackIm: Float32Array): void {
    const size = BLOCK_FRAMES >> this.halvings
    for (let k = 0; k < size; k++) {
      const xr = trackRe[k] as number
      const xi = trackIm[k] as number
      const pr = this.pieceRe[k] as number
      const pi = this.pieceIm[k] as number
      this.re[k] = xr * pr + xi * pi
      this.im[k] = xi * pr - xr * pi
    }
    this.ffts[this.halvings]?.inverse(this.re.subarray(0, size), this.im.subarray(0, size))
  }

  scan(block: 0 | 1, firstChunk: number, into: ChunkValues): void {
    const values = block === 0 ? this.re : this.im
    const size = BLOCK_FRAMES >> this.halvings
    const chunkValues = CHUNK_FRAMES >> this.halvings
    const chunks = Math.min(BLOCK_ADVANCE / CHUNK_FRAMES, into.peak.length - firstChunk)
    for (let chunk = 0; chunk < chunks; chunk++) {
      const from = chunk * chunkValues
      let peak = 0
      let at = from
      let sum = 0
      for (let i = from; i < from + chunkValues; i++) {
        const value = values[i] as number
        sum += value * value
        if (value > peak) {
          peak = value
          at = i
        }
      }
      into.peak[firstChunk + chunk] = peak / size
      if (into.peakAt) into.peakAt[firstChunk + chunk] = firstChunk * CHUNK_FRAMES + (at << this.halvings)
      into.meanSquare[firstChunk + chunk] = sum / chunkValues / size ** 2
    }
  }

  loadTemplate(samples: Float32Array): void {
    this.template = samples
  }

  answer(stretch: Float32Array): number {
    let best = Number.NEGATIVE_INFINITY
    for (let lag = 0; lag < ANSWER_LAGS; lag++) best = Math.max(best, dot(this.template, stretch, lag))
    return best
  }

  answers(stretch: Float32Array, lags: number): Float32Array {
    return Float32Array.from({ length: lags }, (_, lag) => dot(this.template, stretch, lag))
  }
}
