import { describe, expect, it } from 'vitest'
import { noise } from '../../../test/signals'
import { addsUp } from './adds-up'

const [PAD, FIGURE, PULSE] = [noise(16_000, 3, 0.5), noise(16_000, 8, 0.4), noise(16_000, 21, 0.2)]
const sumOf = (...stems: readonly Float32Array[]): Float32Array =>
  new Float32Array(16_000).map((_, n) => stems.reduce((sum, stem) => sum + (stem[n] as number), 0))
const WHOLE = sumOf(PAD, FIGURE, PULSE)
/** All of it but a tenth of a second near its end. */
const MOST_OF_PULSE = PULSE.map((value, n) => (n > 14_000 && n < 15_600 ? 0 : value))
const shifted = (samples: Float32Array, by: number): Float32Array => samples.map((_, n) => samples[n + by] ?? 0)

describe('stems add up to a whole', () => {
  it('when nothing is left of it without them, whatever a codec adds to each', () => {
    expect(addsUp(WHOLE, [PAD, FIGURE, PULSE])).toBe(true)
    const coded = [PAD, FIGURE, PULSE].map((stem, seed) => sumOf(stem, noise(16_000, 40 + seed, 0.03)))
    expect(addsUp(WHOLE, coded)).toBe(true)
    expect(addsUp(shifted(WHOLE, 25), [PAD, FIGURE, PULSE])).toBe(true)
    expect(addsUp(WHOLE, [PAD, FIGURE, PULSE.subarray(0, 15_500)])).toBe(true)
  })

  it.each([
    ['one of them is not listed', [PAD, FIGURE]],
    [
      'a quiet one of them is not listed',
      [
        PAD,
        sumOf(
          FIGURE,
          PULSE.map((value) => 0.3 * value),
        ),
      ],
    ],
    ['one that is silent but for a moment is not listed', [PAD, FIGURE, MOST_OF_PULSE]],
    ['one of them is another one', [PAD, FIGURE, noise(16_000, 77, 0.4)]],
    ['one is softer than in the whole', [PAD.map((value) => 0.4 * value), FIGURE, PULSE]],
    ['one is there twice', [PAD, PAD, FIGURE, PULSE]],
    ['one ends too soon', [PAD, FIGURE.subarray(0, 9000), PULSE]],
    ['there is only one', [WHOLE]],
    ['there are none', []],
  ])('but not when %s', (_, stems) => {
    expect(addsUp(WHOLE, stems)).toBe(false)
  })

  it('but not to silence', () => {
    expect(addsUp(new Float32Array(16_000), [PAD, PAD.map((value) => -value)])).toBe(false)
  })
})
