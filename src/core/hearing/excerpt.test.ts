import { describe, expect, it } from 'vitest'
import { noise } from '../../../test/signals'
import { HEARING_RATE_HZ } from './constants'
import { type Excerpt, excerptAround, heardAround } from './excerpt'
import { type PreparedSound, preparedSound } from './prepare'

const RATE_HZ = HEARING_RATE_HZ
const LONG = preparedSound(noise(90 * RATE_HZ, 3)) as PreparedSound
const SHORT = preparedSound(noise(10 * RATE_HZ, 4)) as PreparedSound
const PIECE = { from: 40 * RATE_HZ, to: 41 * RATE_HZ }

/** What is heard of a sound in which only these frames are there; with what was looked at, s. */
function heardOf(sound: PreparedSound, there: { readonly from: number; readonly to: number }, piece = PIECE) {
  const looks: (readonly [number, number])[] = []
  const place = heardAround(sound, piece, ({ sound: { samples }, start }: Excerpt) => {
    looks.push([start / RATE_HZ, (start + samples.length) / RATE_HZ])
    const from = Math.max(0, there.from - start)
    const to = Math.min(samples.length, there.to - start)
    return to > from ? { from, to, tells: looks.length } : null
  })
  return { place, looks }
}

describe('an excerpt', () => {
  it('of a long sound is what lies around, cut at its ends; of another, all of it', () => {
    const { sound, start } = excerptAround(LONG, PIECE, 2.5 * RATE_HZ)
    expect([start, sound.samples.length, sound.pieces]).toEqual([37.5 * RATE_HZ, 6 * RATE_HZ, []])
    expect(sound.samples[0]).toBe(LONG.samples[37.5 * RATE_HZ])
    expect(excerptAround(LONG, { from: 0, to: RATE_HZ }, 3 * RATE_HZ).start).toBe(0)
    expect(excerptAround(LONG, { from: 89 * RATE_HZ, to: 90 * RATE_HZ }, RATE_HZ).sound.samples).toHaveLength(
      2 * RATE_HZ,
    )
    expect(excerptAround(SHORT, { from: 0, to: 100 }, 100)).toEqual({ sound: SHORT, start: 0 })
  })
})

describe('what is heard around a piece', () => {
  it('is not looked for farther than it goes', () => {
    const { place, looks } = heardOf(LONG, { from: 38 * RATE_HZ, to: 43 * RATE_HZ })
    expect(looks).toEqual([[37, 44]])
    expect(place).toEqual({ heard: { from: 38 * RATE_HZ, to: 43 * RATE_HZ, tells: 1 }, start: 37 * RATE_HZ })
  })

  it('is looked for on until an excerpt holds all of it, on either side', () => {
    const later = heardOf(LONG, { from: 39 * RATE_HZ, to: 62 * RATE_HZ })
    expect(later.looks).toEqual([
      [37, 44],
      [31, 50],
      [13, 68],
    ])
    expect(later.place?.heard).toMatchObject({ from: 39 * RATE_HZ, to: 62 * RATE_HZ })
    const earlier = heardOf(LONG, { from: 30 * RATE_HZ, to: 41 * RATE_HZ })
    expect(earlier.looks).toHaveLength(3)
    expect(earlier.place?.heard).toMatchObject({ from: 30 * RATE_HZ, to: 41 * RATE_HZ })
  })

  it('ends with the sound', () => {
    const { place, looks } = heardOf(LONG, { from: 0, to: 90 * RATE_HZ })
    expect(looks.at(-1)).toEqual([0, 90])
    expect(place?.heard).toMatchObject({ from: 0, to: 90 * RATE_HZ })
  })

  it('is what was heard in less where more of it says nothing, and nothing where nothing was', () => {
    let looks = 0
    const place = heardAround(LONG, PIECE, ({ sound }) =>
      ++looks === 1 ? { from: 0, to: sound.samples.length } : null,
    )
    expect(looks).toBe(2)
    expect(place).toEqual({ heard: { from: 37 * RATE_HZ, to: 44 * RATE_HZ }, start: 37 * RATE_HZ })
    expect(heardOf(LONG, { from: 0, to: RATE_HZ }).place).toBeNull()
  })

  it('is looked for once in a sound that is not long', () => {
    const { place, looks } = heardOf(SHORT, { from: 0, to: 10 * RATE_HZ }, { from: 0, to: RATE_HZ })
    expect(looks).toEqual([[0, 10]])
    expect(place?.start).toBe(0)
  })
})
