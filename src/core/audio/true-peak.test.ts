import { describe, expect, it } from 'vitest'
import { noise } from '../../../test/signals'
import { TruePeak } from './true-peak'

function peakOf(blocks: readonly Float32Array[], compiled: boolean): number {
  const meter = new TruePeak(compiled)
  for (const block of blocks) meter.push(block)
  return meter.peak
}

describe('TruePeak', () => {
  it.each([1, 3, 255, 256, 257, 4099])('is the same compiled and plain for %i samples', (length) => {
    const samples = [noise(length, length)]
    const plain = peakOf(samples, false)
    expect(plain).toBeGreaterThan(0)
    // Single precision against double.
    expect(Math.abs(peakOf(samples, true) / plain - 1)).toBeLessThan(1e-5)
  })

  it('does not depend on how the sound is cut into blocks', () => {
    const samples = noise(3001, 4)
    const cuts = [0, 7, 8, 300, 1290, 3001]
    const blocks = cuts.slice(1).map((end, at) => samples.subarray(cuts[at], end))
    expect(peakOf(blocks, true)).toBeCloseTo(peakOf([samples], true), 6)
  })

  it('does not take the end of a block for the end of the sound', () => {
    // A level that breaks off overshoots; one that goes on does not.
    const level = new Float32Array(1021).fill(0.5)
    const [broken, whole] = [new TruePeak(), new TruePeak()]
    broken.push(level)
    const atTheCut = broken.peak
    whole.push(new Float32Array(2042).fill(0.5))
    expect(whole.peak).toBeCloseTo(atTheCut, 6)
  })
})
