import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { noise } from '../../../test/signals'
import { memorySource } from './pcm'
import { SincReader, windowedSinc, ZERO_CROSSINGS } from './sinc'

const CHANNEL = noise(4000, 9, 0.5)
const SOURCE = memorySource([CHANNEL], 48_000)

/** The sum that is meant, tap by tap. */
function plainly(position: number): number {
  const scale = 0.95
  let sum = 0
  const reach = ZERO_CROSSINGS / scale
  for (let n = Math.ceil(position - reach); n <= position + reach; n++)
    sum += (CHANNEL[n] ?? 0) * scale * windowedSinc((n - position) * scale)
  return sum
}

describe('a source read between its frames at its own speed', () => {
  test('is the same forwards and backwards, compiled and not, as the sum that is meant', () => {
    const anyPlace = fc.double({ min: -60, max: 4060, noNaN: true })
    fc.assert(
      fc.property(anyPlace, fc.constantFrom(1, -1), fc.integer({ min: 1, max: 300 }), (position, step, frames) => {
        const [quick, plain] = [true, false].map((compiled) => {
          const out = new Float32Array(frames)
          new SincReader(SOURCE, compiled).read(0, { position, step }, out)
          return out
        }) as [Float32Array, Float32Array]
        // A place that is all but a whole frame is one.
        const at = Math.abs(position - Math.round(position)) < 1e-6 ? Math.round(position) : position
        const isWhole = Number.isInteger(at)
        for (let n = 0; n < frames; n += 17) {
          const meant = isWhole ? (CHANNEL[at + step * n] ?? 0) : plainly(at + step * n)
          expect(Math.abs((plain[n] as number) - meant)).toBeLessThan(2e-5)
          expect(Math.abs((quick[n] as number) - (plain[n] as number))).toBeLessThan(1e-6)
        }
      }),
    )
  })

  test('is silent where the source has nothing', () => {
    const out = new Float32Array(64).fill(7)
    new SincReader(SOURCE).read(0, { position: -5000.3, step: 1 }, out)
    expect(out.every((one) => one === 0)).toBe(true)
  })
})
