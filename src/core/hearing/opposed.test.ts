import { describe, expect, it } from 'vitest'
import type { TimeRange } from '../time-range'
import { HEARING_RATE_HZ } from './constants'
import { oppositionOf } from './opposed'
import { type Track, trackOf } from './track'

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

/** Where they oppose each other; nowhere is it so in part. */
function opposedRanges(track: Track): readonly TimeRange[] {
  const { opposed, partlyOpposed } = oppositionOf(track)
  expect(partlyOpposed).toEqual([])
  return opposed
}

function added(one: Float32Array, other: Float32Array): Float32Array {
  return one.map((value, n) => value + (other[n] as number))
}

/** What is bright of it. */
function raised(samples: Float32Array): Float32Array {
  return samples.map((value, n) => (value - 2 * (samples[n - 1] ?? 0) + (samples[n - 2] ?? 0)) / 3)
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

describe('left and right of what lies under something else', () => {
  const LENGTH = 3 * HEARING_RATE_HZ
  const from = 1.2 * HEARING_RATE_HZ
  /** A low bed that goes on in both channels alike. */
  const low = Float32Array.from({ length: LENGTH }, (_, n) =>
    [90, 130, 210].reduce((sum, hz) => sum + 0.2 * Math.sin((2 * Math.PI * hz * n) / HEARING_RATE_HZ), 0),
  )
  /** Bright noise for so long, at a level against -20 dB. */
  function bright(seconds: number, level: number, seed = 6): Float32Array {
    const samples = raised(noise(3, seed))
    const end = from + seconds * HEARING_RATE_HZ
    return samples.map((value, n) => (n >= from && n < end ? level * value : 0))
  }
  const mixed = (left: Float32Array, right: Float32Array) =>
    oppositionOf(
      stereo(
        left.map((value, n) => value + (low[n] as number)),
        right.map((value, n) => value + (low[n] as number)),
      ),
    )
  const turned = (samples: Float32Array) => samples.map((value) => -value)

  it.each([
    ['alone', 1],
    ['softly', 0.3],
  ])('are told where it cancels itself out %s, and of a copy that is softer on one side', (_, level) => {
    const sound = bright(0.5, level)
    for (const right of [turned(sound), sound.map((value) => -0.7 * value)]) {
      const { opposed, partlyOpposed } = mixed(sound, right)
      expect(opposed).toEqual([])
      expect(partlyOpposed).toEqual([{ startS: expect.closeTo(1.2, 1), endS: expect.closeTo(1.7, 1) }])
    }
  })

  it.each([
    ['in the middle', bright(0.5, 1), bright(0.5, 1)],
    ['on one side alone', bright(0.5, 1), new Float32Array(LENGTH)],
    ['on both sides with nothing to do with each other', bright(0.5, 1), bright(0.5, 1, 7)],
    [
      'the left turned over, with as much of its own',
      bright(0.5, 1),
      added(turned(bright(0.5, 0.7)), bright(0.5, 0.9, 8)),
    ],
    ['a moment of a cymbal', bright(0.1, 0.45), turned(bright(0.1, 0.45))],
    ['too soft against the bed to be listened to', bright(0.5, 0.12), turned(bright(0.5, 0.12)), 0],
  ])('are not what is %s', (_, left, right, hissLevel = 0.05) => {
    const hiss = noise(3, 9).map((value) => hissLevel * value)
    expect(mixed(added(left, hiss), added(right, hiss))).toEqual({ opposed: [], partlyOpposed: [] })
  })

  it('are not the beats of voices that are out of tune, but are told where they last', () => {
    const voices = (detune: number): Float32Array =>
      Float32Array.from({ length: 8 * HEARING_RATE_HZ }, (_, n) =>
        [220, 330, 440, 660].reduce(
          (sum, hz) => sum + 0.05 * Math.sin((2 * Math.PI * hz * detune * n) / HEARING_RATE_HZ),
          0,
        ),
      )
    const bass = (n: number): number => 0.1 * Math.sin((2 * Math.PI * 70 * n) / HEARING_RATE_HZ)
    const withBass = (samples: Float32Array) => samples.map((value, n) => value + bass(n))
    expect(oppositionOf(stereo(withBass(voices(1)), withBass(voices(1.003)))).partlyOpposed).toEqual([])
    // What is turned over for four seconds is as loud all the while.
    const isTurned = (n: number): boolean => n >= 2 * HEARING_RATE_HZ && n < 6 * HEARING_RATE_HZ
    const flipped = voices(1).map((value, n) => (isTurned(n) ? -value : value))
    expect(oppositionOf(stereo(withBass(voices(1)), withBass(flipped)))).toEqual({
      opposed: [],
      partlyOpposed: [{ startS: expect.closeTo(2, 1), endS: expect.closeTo(6, 1) }],
    })
  })

  it('do not begin or end where the track does, but may be all of it', () => {
    // Steady noise that is turned over, under a bed that leaves it alone in the bright bands in the first and the last half second only.
    const steady = raised(noise(3, 6)).map((value) => 0.3 * value)
    const isBare = (n: number): boolean => n < 0.5 * HEARING_RATE_HZ || n >= 2.5 * HEARING_RATE_HZ
    const hiss = noise(3, 9).map((value, n) => (isBare(n) ? 0 : 0.3 * value))
    const none = { opposed: [], partlyOpposed: [] }
    expect(mixed(added(steady, hiss), added(turned(steady), hiss))).toEqual(none)
    // A codec leaves a few silent frames beyond.
    const beyond = (samples: Float32Array) => {
      const longer = new Float32Array(samples.length + 3600)
      longer.set(added(samples, low), 2000)
      return longer
    }
    expect(oppositionOf(stereo(beyond(added(steady, hiss)), beyond(added(turned(steady), hiss))))).toEqual(none)
    const part = (samples: Float32Array) => samples.subarray(0, HEARING_RATE_HZ)
    const { partlyOpposed } = oppositionOf(stereo(part(added(steady, low)), part(added(turned(steady), low))))
    expect(partlyOpposed).toEqual([{ startS: 0, endS: 1 }])
  })

  it('are told apart from where that is all there is', () => {
    // The bed ends where the sound has half of its time left.
    const sound = bright(1, 1)
    const bedEnds = from + 0.5 * HEARING_RATE_HZ
    const cut = low.map((value, n) => (n < bedEnds ? value : 0))
    const { opposed, partlyOpposed } = oppositionOf(stereo(added(sound, cut), added(turned(sound), cut)))
    expect(opposed).toEqual([{ startS: expect.closeTo(1.7, 1), endS: expect.closeTo(2.2, 1) }])
    expect(partlyOpposed).toEqual([{ startS: expect.closeTo(1.2, 1), endS: expect.closeTo(1.7, 1) }])
  })
})
