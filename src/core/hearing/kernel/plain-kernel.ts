import { Fft } from '../../audio/fft'
import { BLOCK_ADVANCE, BLOCK_FRAMES, CHUNK_FRAMES } from '../constants'
import type { BlockKernel, ChunkValues } from './block-kernel'

const BINS = BLOCK_FRAMES / 2 + 1

/** The reference: plain TypeScript. Owns its buffers, so one instance a thread. */
export class PlainKernel implements BlockKernel {
  readonly name = 'plain'
  private readonly fft = new Fft(BLOCK_FRAMES)
  private readonly filterRe = new Float32Array(BLOCK_FRAMES)
  private readonly filterIm = new Float32Array(BLOCK_FRAMES)
  private readonly re = new Float32Array(BLOCK_FRAMES)
  private readonly im = new Float32Array(BLOCK_FRAMES)

  loadPieces(first: Float32Array, second: Float32Array | null): void {
    this.filterRe.fill(0)
    this.filterIm.fill(0)
    // conj(P1) + i conj(P2) is the transform of the time-reversed p1 + i p2.
    placeReversed(this.filterRe, first)
    if (second) placeReversed(this.filterIm, second)
    this.fft.forward(this.filterRe, this.filterIm)
  }

  filterBlock(trackRe: Float32Array, trackIm: Float32Array): void {
    const { re, im, filterRe, filterIm } = this
    const size = BLOCK_FRAMES
    for (let k = 0; k < BINS; k++) {
      const tr = trackRe[k] as number
      const ti = trackIm[k] as number
      const fr = filterRe[k] as number
      const fi = filterIm[k] as number
      re[k] = tr * fr - ti * fi
      im[k] = tr * fi + ti * fr
      if (k > 0 && k < size / 2) {
        const gr = filterRe[size - k] as number
        const gi = filterIm[size - k] as number
        re[size - k] = tr * gr + ti * gi
        im[size - k] = tr * gi - ti * gr
      }
    }
    this.fft.inverse(re, im)
  }

  scan(piece: 0 | 1, firstChunk: number, into: ChunkValues): void {
    const values = piece === 0 ? this.re : this.im
    const chunks = Math.min(BLOCK_ADVANCE / CHUNK_FRAMES, into.peak.length - firstChunk)
    for (let chunk = 0; chunk < chunks; chunk++) {
      const from = chunk * CHUNK_FRAMES
      let peak = 0
      let at = from
      let sum = 0
      for (let i = from; i < from + CHUNK_FRAMES; i++) {
        const value = values[i] as number
        sum += value * value
        if (value > peak) {
          peak = value
          at = i
        }
      }
      into.peak[firstChunk + chunk] = peak / BLOCK_FRAMES
      into.peakAt[firstChunk + chunk] = firstChunk * CHUNK_FRAMES + at
      into.meanSquare[firstChunk + chunk] = sum / CHUNK_FRAMES / BLOCK_FRAMES ** 2
    }
  }
}

/** Puts a piece into a block so that its transform is the conjugate of the piece's. */
export function placeReversed(into: Float32Array, samples: Float32Array): void {
  into[0] = samples[0] as number
  for (let n = 1; n < samples.length; n++) into[into.length - n] = samples[n] as number
}
