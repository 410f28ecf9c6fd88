import { describe, expect, it } from 'vitest'
import { addAt, noise } from '../../../test/signals'
import { BLOCK_ADVANCE, CHUNK_FRAMES } from './constants'
import { blockCount, Correlator, preparedTrack, spectraLength } from './correlate'
import type { BlockKernel } from './kernel/block-kernel'
import { PlainKernel } from './kernel/plain-kernel'
import { wasmKernel } from './kernel/wasm-kernel'
import type { Piece } from './prepare'
import { whitenedTrack } from './whiten'

function piece(length: number, seed: number, start = 0): Piece {
  const samples = noise(length, seed)
  const norm = Math.sqrt(samples.reduce((sum, value) => sum + value * value, 0))
  return { start, samples: samples.map((value) => value / norm) }
}

/** The correlation by its definition. */
function plainCorrelation(track: Float32Array, template: Float32Array, at: number): number {
  let sum = 0
  for (let k = 0; k < template.length; k++) sum += (track[at + k] ?? 0) * (template[k] as number)
  return sum
}

describe.each([
  ['plain', () => new PlainKernel()],
  ['wasm', () => wasmKernel() as BlockKernel],
] as const)('Correlator with the %s kernel', (_name, kernel) => {
  // Longer than one block, so that the seam between blocks is crossed.
  const samples = noise(BLOCK_ADVANCE + 9000, 31, 0.2)
  const pieces = [piece(700, 1), piece(16000, 2)] as const
  const track = preparedTrack(samples)
  const whitened = whitenedTrack(samples)
  const summaries = new Correlator(kernel()).summaries(track, pieces[0], pieces[1])

  it.each([0, 1])('agrees with the definition for piece %i, in every chunk', (index) => {
    const summary = summaries[index]
    const template = (pieces[index] as Piece).samples
    expect(summary?.peak.length).toBe(Math.ceil(samples.length / CHUNK_FRAMES))
    for (const chunk of [0, 1, 50, BLOCK_ADVANCE / CHUNK_FRAMES - 1, BLOCK_ADVANCE / CHUNK_FRAMES, 105]) {
      let peak = 0
      let at = 0
      let square = 0
      for (let n = chunk * CHUNK_FRAMES; n < (chunk + 1) * CHUNK_FRAMES; n++) {
        const value = plainCorrelation(whitened, template, n)
        square += value * value
        if (value > peak) {
          peak = value
          at = n
        }
      }
      expect(summary?.peak[chunk]).toBeCloseTo(peak, 3)
      expect(summary?.peakAt[chunk]).toBe(at)
      expect(summary?.meanSquare[chunk]).toBeCloseTo(square / CHUNK_FRAMES, 3)
    }
  })

  it('gives the same for a piece alone as for a piece in company', () => {
    const [alone] = new Correlator(kernel()).summaries(track, pieces[0], null)
    for (const [chunk, value] of (alone?.peak ?? []).entries())
      expect(value).toBeCloseTo(summaries[0]?.peak[chunk] as number, 3)
  })

  it('shows a piece that lies in the track at its frame', () => {
    const carrier = noise(30000, 8, 0.05)
    const template = piece(4000, 77)
    addAt(carrier, template.samples, 12345, 20)
    const [summary] = new Correlator(kernel()).summaries(preparedTrack(carrier), template, null)
    const chunk = Math.floor(12345 / CHUNK_FRAMES)
    expect(summary?.peakAt[chunk]).toBe(12345)
    expect(summary?.peak[chunk]).toBe(Math.max(...(summary?.peak ?? [])))
  })
})

describe('preparedTrack', () => {
  it('fills arrays that it is given, for instance in shared memory', () => {
    const samples = noise(2000, 3)
    const length = spectraLength(samples.length)
    const spectraRe = new Float32Array(new SharedArrayBuffer(4 * length))
    const spectraIm = new Float32Array(new SharedArrayBuffer(4 * length))
    const shared = preparedTrack(samples, { spectraRe, spectraIm })
    expect(shared.spectraRe).toBe(spectraRe)
    expect([...spectraRe.subarray(0, 200)]).toEqual([...preparedTrack(samples).spectraRe.subarray(0, 200)])
  })

  it.each([
    [0, 1],
    [1, 1],
    [BLOCK_ADVANCE, 1],
    [BLOCK_ADVANCE + 1, 2],
  ])('cuts %i frames into %i blocks', (frames, blocks) => {
    expect(blockCount(frames)).toBe(blocks)
  })
})
