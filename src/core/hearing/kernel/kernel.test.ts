import fs from 'node:fs'
import path from 'node:path'
import { describe, expect, it } from 'vitest'
import { kernelModule } from '../../../../scripts/build-kernel.mjs'
import { noise } from '../../../../test/signals'
import { BLOCK_FRAMES } from '../constants'
import type { BlockKernel, ChunkValues } from './block-kernel'
import { PlainKernel } from './plain-kernel'
import { wasmKernel } from './wasm-kernel'

const BINS = BLOCK_FRAMES / 2 + 1

function values(chunks: number): ChunkValues {
  return { peak: new Float32Array(chunks), peakAt: new Int32Array(chunks), meanSquare: new Float32Array(chunks) }
}

function summed(kernel: BlockKernel, piece: 0 | 1, chunks = 96, firstChunk = 0): ChunkValues {
  const into = values(chunks)
  kernel.scan(piece, firstChunk, into)
  return into
}

describe('the WebAssembly kernel', () => {
  it('is the compiled form of the source beside it', async () => {
    const committed = fs.readFileSync(path.join(import.meta.dirname, 'kernel-bytes.ts'), 'utf8')
    const hex = (text: string): string => [...text.matchAll(/'([0-9a-f]+)'/g)].map((match) => match[1]).join('')
    expect(hex(committed)).toBe(hex(await kernelModule()))
  })

  it.each([1, 2, 3])('agrees with the plain one on noise (seed %i)', (seed) => {
    const kernels = [new PlainKernel(), wasmKernel() as BlockKernel]
    const [plain, wasm] = kernels.map((kernel) => {
      kernel.loadPieces(noise(700 * seed, seed), noise(16000, seed + 10))
      kernel.filterBlock(noise(BINS, seed + 20), noise(BINS, seed + 30))
      return [summed(kernel, 0), summed(kernel, 1)] as const
    })
    for (const piece of [0, 1] as const) {
      const [a, b] = [plain?.[piece] as ChunkValues, wasm?.[piece] as ChunkValues]
      expect([...b.peakAt]).toEqual([...a.peakAt])
      for (const [chunk, peak] of a.peak.entries()) {
        // Both work in single precision, in another order.
        expect(Math.abs((b.peak[chunk] as number) / peak - 1)).toBeLessThan(1e-4)
        expect(Math.abs((b.meanSquare[chunk] as number) / (a.meanSquare[chunk] as number) - 1)).toBeLessThan(1e-4)
      }
    }
  })

  it('keeps the second piece silent when there is none', () => {
    const kernel = wasmKernel() as BlockKernel
    kernel.loadPieces(noise(500, 1), noise(500, 2))
    kernel.loadPieces(noise(500, 1), null)
    kernel.filterBlock(new Float32Array(BINS), new Float32Array(BINS))
    const { peak, meanSquare, peakAt } = summed(kernel, 1)
    expect(Math.max(...peak)).toBe(0)
    expect(Math.max(...meanSquare)).toBe(0)
    expect(peakAt[3]).toBe(3 * 512)
  })

  it('writes only the chunks that the track has', () => {
    const kernel = wasmKernel() as BlockKernel
    kernel.loadPieces(noise(500, 1), null)
    kernel.filterBlock(noise(BINS, 4), noise(BINS, 5))
    const into = summed(kernel, 0, 100, 96)
    expect(into.peak.subarray(0, 96).every((value) => value === 0)).toBe(true)
    expect(into.peak.subarray(96).every((value) => value > 0)).toBe(true)
    expect(into.peakAt[96]).toBeGreaterThanOrEqual(96 * 512)
  })

  it('is not there where SIMD or WebAssembly is not', () => {
    const none = { validate: () => false, Module: Object, Instance: Object, Memory: Object } as never
    expect(wasmKernel(none)).toBeNull()
  })
})
