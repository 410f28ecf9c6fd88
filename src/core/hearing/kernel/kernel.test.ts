import { describe, expect, it } from 'vitest'
import { noise } from '../../../../test/signals'
import { BLOCK_CHUNKS, BLOCK_FRAMES, CHUNK_FRAMES } from '../constants'
import { ANSWER_LAGS, type BlockKernel, type ChunkValues, type Halvings } from './block-kernel'
import { PlainKernel } from './plain-kernel'
import { wasmKernel } from './wasm-kernel'

function values(chunks: number): ChunkValues {
  return { peak: new Float32Array(chunks), peakAt: new Int32Array(chunks), meanSquare: new Float32Array(chunks) }
}

function scanned(kernel: BlockKernel, block: 0 | 1, chunks = BLOCK_CHUNKS, firstChunk = 0): ChunkValues {
  const into = values(chunks)
  kernel.scan(block, firstChunk, into)
  return into
}

/** Filters two blocks of noise with a piece of noise. */
function filtered(kernel: BlockKernel, seed: number, halvings: Halvings): BlockKernel {
  const size = BLOCK_FRAMES >> halvings
  const re = noise(size, seed + 20)
  const im = noise(size, seed + 30)
  kernel.transform(re, im, halvings)
  kernel.loadPiece(noise((900 * seed) >> halvings, seed + 10), halvings)
  kernel.filterBlocks(re, im)
  return kernel
}

describe('the WebAssembly kernel', () => {
  it.each([
    [1, 0],
    [17, 0],
    [3, 1],
    [4, 2],
  ] as const)('agrees with the plain one on noise (seed %i, band halved %i times)', (seed, halvings) => {
    const plain = filtered(new PlainKernel(), seed, halvings)
    const wasm = filtered(wasmKernel() as BlockKernel, seed, halvings)
    for (const block of [0, 1] as const) {
      const [a, b] = [scanned(plain, block), scanned(wasm, block)]
      expect([...(b.peakAt as Int32Array)]).toEqual([...(a.peakAt as Int32Array)])
      for (const [chunk, peak] of a.peak.entries()) {
        // Both work in single precision, in another order.
        expect(Math.abs((b.peak[chunk] as number) / peak - 1)).toBeLessThan(1e-3)
        expect(Math.abs((b.meanSquare[chunk] as number) / (a.meanSquare[chunk] as number) - 1)).toBeLessThan(1e-3)
      }
    }
  })

  it.each([5, 64, 1001, 16000])('answers as the plain one does with a template of %i samples', (length) => {
    const template = noise(length, 3)
    const stretch = noise(length + ANSWER_LAGS - 1, 4)
    template.forEach((value, n) => {
      stretch[n + 5] = (stretch[n + 5] as number) + 3 * value
    })
    const answers = [new PlainKernel(), wasmKernel() as BlockKernel].map((kernel) => {
      // What a longer one left behind must not count.
      kernel.loadTemplate(noise(16000, 9))
      kernel.answer(noise(16000 + ANSWER_LAGS - 1, 8))
      kernel.loadTemplate(template)
      return kernel.answer(stretch)
    }) as [number, number]
    expect(answers[0]).toBeGreaterThan(length / 2)
    expect(Math.abs(answers[1] / answers[0] - 1)).toBeLessThan(1e-4)
  })

  it.each([400, 481])(
    'gives the products of a template of %i at each of many places, as the plain one does',
    (length) => {
      const lags = 480
      const template = noise(length, 3)
      const stretch = noise(length + lags - 1, 4)
      template.forEach((value, n) => {
        stretch[n + lags - 1] = (stretch[n + lags - 1] as number) + 3 * value
      })
      const [plain, wasm] = [new PlainKernel(), wasmKernel() as BlockKernel].map((kernel) => {
        // What a longer one left behind must not count, nor what is no number.
        kernel.loadTemplate(noise(8000, 9))
        kernel.answers(new Float32Array(8000 + lags - 1).fill(Number.NaN), lags)
        kernel.loadTemplate(template)
        return [...kernel.answers(stretch, lags)]
      }) as [number[], number[]]
      expect(wasm).toHaveLength(lags)
      expect(wasm.indexOf(Math.max(...wasm))).toBe(lags - 1)
      plain.forEach((product, lag) => {
        expect(Math.abs((wasm[lag] as number) - product)).toBeLessThan(1e-3 * length)
      })
    },
  )

  it('forgets the last piece when a shorter one is loaded', () => {
    const kernel = wasmKernel() as BlockKernel
    const fresh = scanned(filtered(wasmKernel() as BlockKernel, 2, 0), 0)
    kernel.loadPiece(noise(16000, 1), 0)
    expect([...scanned(filtered(kernel, 2, 0), 0).peak]).toEqual([...fresh.peak])
  })

  it('writes only the chunks that the track has, and places only where they are asked for', () => {
    const kernel = filtered(wasmKernel() as BlockKernel, 5, 0)
    const into = scanned(kernel, 1, BLOCK_CHUNKS + 4, BLOCK_CHUNKS)
    expect(into.peak.subarray(0, BLOCK_CHUNKS).every((value) => value === 0)).toBe(true)
    expect(into.peak.subarray(BLOCK_CHUNKS).every((value) => value > 0)).toBe(true)
    expect(into.peakAt?.[BLOCK_CHUNKS]).toBeGreaterThanOrEqual(BLOCK_CHUNKS * CHUNK_FRAMES)
    const without: ChunkValues = { ...values(8), peakAt: null }
    kernel.scan(1, 0, without)
    expect(without.peak[3]).toBe(into.peak[BLOCK_CHUNKS + 3])
  })

  it('is not there where SIMD or WebAssembly is not', () => {
    const none = { validate: () => false, Module: Object, Instance: Object, Memory: Object } as never
    expect(wasmKernel(none)).toBeNull()
  })
})
