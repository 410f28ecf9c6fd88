import { describe, expect, it } from 'vitest'
import { HEARING_RATE_HZ } from './constants'
import { opposedRanges } from './opposed'
import { trackOf } from './track'

/** Noise of a seed, -20 dB. */
function noise(seconds: number, seed: number): Float32Array {
  let state = seed
  return Float32Array.from({ length: seconds * HEARING_RATE_HZ }, () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return 0.17 * ((state / 2 ** 31 - 1) as number)
  })
}

/** A track of left and right. */
function stereo(left: Float32Array, right: Float32Array) {
  return trackOf(
    left.map((value, n) => (value + (right[n] as number)) / 2),
    left.map((value, n) => (value - (right[n] as number)) / 2),
  )
}

const one = noise(3, 1)
const other = noise(3, 2)

describe('left and right that oppose each other', () => {
  it('are told where one is the other turned over, and nowhere else', () => {
    const right = one.map((value, n) => (n >= HEARING_RATE_HZ && n < 2 * HEARING_RATE_HZ ? -value : value))
    expect(opposedRanges(stereo(one, right))).toEqual([{ startS: 1, endS: 2 }])
  })

  it.each([
    ['the same on both sides', one, one],
    ['on one side alone', one, new Float32Array(one.length)],
    ['two noises that have nothing to do with each other', one, other],
    // Two thirds of the right are the left turned over: in the middle it is 4 dB softer than in the side.
    ['wide', one, one.map((value, n) => -0.4 * value + 0.9 * (other[n] as number))],
    ['too soft to be heard', one.map((value) => value / 1000), one.map((value) => -value / 1000)],
    ['silent', new Float32Array(16_000), new Float32Array(16_000)],
  ])('are not what is %s', (_, left, right) => {
    expect(opposedRanges(stereo(left, right))).toEqual([])
  })

  it('are not a moment of it over what goes on in the middle, but are where that is all there is', () => {
    const moment = (n: number): boolean => n >= 16_000 && n < 17_600
    const cymbal = one.map((value, n) => (moment(n) ? 0.3 * value : 0))
    const bass = other.map((value, n) => (moment(n) ? 0 : 0.3 * value))
    const left = cymbal.map((value, n) => value + (bass[n] as number))
    const right = cymbal.map((value, n) => -value + (bass[n] as number))
    expect(opposedRanges(stereo(left, right))).toEqual([])
    expect(
      opposedRanges(
        stereo(
          cymbal,
          cymbal.map((value) => -value),
        ),
      ),
    ).toEqual([{ startS: 1, endS: 1.1 }])
  })

  it('are told of a softer copy too, and of the end of a track that is no whole step', () => {
    const left = one.subarray(0, 16_000 + 700)
    expect(
      opposedRanges(
        stereo(
          left,
          left.map((value) => -0.6 * value),
        ),
      ),
    ).toEqual([{ startS: 0, endS: 16_700 / 16_000 }])
    // A quarter of it is left in the middle of each.
    expect(
      opposedRanges(
        stereo(
          left,
          left.map((value) => -0.3 * value),
        ),
      ),
    ).toEqual([])
  })

  it('are one stretch where they stop for a moment, and are not in mono', () => {
    const left = noise(2, 3)
    const right = left.map((value, n) => (n >= 16_000 && n < 16_000 + 3200 ? value : -value))
    expect(opposedRanges(stereo(left, right))).toEqual([{ startS: 0, endS: 2 }])
    expect(opposedRanges(trackOf(left))).toEqual([])
  })
})
