import { describe, expect, it } from 'vitest'
import { noise } from '../../../../test/signals'
import { type PatchProducts, TEMPLATES_AT_ONCE } from './patch-products'
import { PlainProducts } from './plain-products'
import { ROW_MAX } from './track-patches'
import { wasmProducts } from './wasm-products'

const SIZE = 1024

function rowsOf(count: number, seed: number, largest = 2000): Int16Array {
  return Int16Array.from(noise(count * SIZE, seed), (value) => Math.round(value * largest))
}

function templatesOf(seed: number): Int8Array {
  return Int8Array.from(noise(TEMPLATES_AT_ONCE * SIZE, seed), (value) =>
    Math.max(-127, Math.min(127, Math.round(value * 60))),
  )
}

const compiled = (): PatchProducts => {
  const products = wasmProducts()
  if (!products) throw new Error('SIMD WebAssembly does not run here')
  return products
}

describe('the products of patches and templates', () => {
  it.each([1, 2, 7, 40])('are the same numbers, plain and compiled (%d patches)', (count) => {
    const plain = new PlainProducts()
    const fast = compiled()
    for (const one of [plain, fast]) one.loadPatches(rowsOf(count, 5), SIZE)
    for (const seed of [6, 7])
      expect([...fast.multiply(templatesOf(seed))]).toEqual([...plain.multiply(templatesOf(seed))])
  })

  it('hold the largest numbers that there can be', () => {
    const fast = compiled()
    fast.loadPatches(new Int16Array(2 * SIZE).fill(ROW_MAX), SIZE)
    expect(fast.multiply(new Int8Array(TEMPLATES_AT_ONCE * SIZE).fill(-127))[0]).toBe(-127 * ROW_MAX * SIZE)
  })

  it('keep nothing of patches that were there before, nor change when the caller changes its own', () => {
    const fast = compiled()
    fast.loadPatches(rowsOf(9, 1), SIZE)
    const rows = rowsOf(3, 2)
    fast.loadPatches(rows, SIZE)
    const plain = new PlainProducts()
    plain.loadPatches(rows, SIZE)
    rows.fill(0)
    expect([...fast.multiply(templatesOf(3))]).toEqual([...plain.multiply(templatesOf(3))])
  })

  it('give nothing where there are no patches', () => {
    for (const one of [new PlainProducts(), compiled()]) {
      one.loadPatches(new Int16Array(0), SIZE)
      expect(one.multiply(templatesOf(3))).toHaveLength(0)
    }
  })
})
