import { describe, expect, it } from 'vitest'
import { addAt, effect, noise } from '../../../test/signals'
import { coveredS } from '../time-range'
import { beyondHeardInStored } from './beyond-heard'
import { CompactError, compactTrack } from './compact'
import type { Detection } from './detections'
import { type PreparedSound, preparedSound } from './prepare'
import { trackOf } from './track'

const RATE_HZ = 16000
const wind = noise(6 * RATE_HZ, 11, 0.05)
const WIND = preparedSound(wind) as PreparedSound

/** The wind, heard from the second second on in a track of ten. */
const find = (more: Partial<Detection> = {}): Detection => ({
  soundIndex: 0,
  alternatives: [],
  startS: 2,
  endS: 8,
  fromS: 0,
  toS: 6,
  speed: 1,
  cutoffHz: null,
  balance: 0,
  fadeInS: 0,
  fadeOutS: 0,
  gainDb: 0,
  treatment: 'as-is',
  score: 20,
  confidence: 1,
  ...more,
})

function stored(other: Float32Array | null = null, otherAtS = 0): Uint8Array {
  const samples = noise(10 * RATE_HZ, 3, 0.0005)
  addAt(samples, wind, 2 * RATE_HZ, 1)
  if (other) addAt(samples, other, otherAtS * RATE_HZ, 1)
  return compactTrack(trackOf(samples))
}

const beyond = (bytes: Uint8Array, heard = [find()], speech: { startS: number; endS: number }[] = []) =>
  beyondHeardInStored(bytes, heard, speech, () => WIND)

describe('a sound that is heard in a stored track', () => {
  const slam = effect({ length: RATE_HZ, rateHz: RATE_HZ, seed: 8 }).map((value) => 0.6 * value)

  it('explains its place where little is left without it', () => {
    expect(beyond(stored())).toEqual([])
  })

  it('does not explain what is there beside it', () => {
    const left = beyond(stored(slam, 5))
    expect(left[0]?.startS).toBeGreaterThan(4.5)
    expect(left.at(-1)?.endS).toBeLessThan(6.6)
    expect(coveredS(left)).toBeGreaterThan(0.5)
    // Under a voice that is told by itself.
    expect(beyond(stored(slam, 5), [find()], [{ startS: 4, endS: 7 }])).toEqual([])
    // In a room it cannot be taken out exactly, and nothing is told from what is left.
    expect(beyond(stored(slam, 5), [find({ treatment: 'room' })])).toEqual([])
  })

  it('explains nothing of the middle where it was heard in the side, whatever was done to it', () => {
    for (const treatment of ['as-is', 'room', 'speed-pitch-kept'] as const)
      expect(
        coveredS(beyond(stored(slam, 5), [find({ startS: 4.9, endS: 6.2, gainDb: -40, treatment, inSide: true })])),
      ).toBeGreaterThan(0.8)
  })

  it('explains it together with another one that is heard there', () => {
    const other = preparedSound(slam) as PreparedSound
    const both = [find(), find({ soundIndex: 1, startS: 5, endS: 6, toS: 1 })]
    const left = beyondHeardInStored(stored(slam, 5), both, [], ({ soundIndex }) => (soundIndex === 0 ? WIND : other))
    expect(left).toEqual([])
  })

  it('explains nothing when its audio is not there any more', () => {
    const left = beyondHeardInStored(stored(), [find()], [], () => null)
    expect(coveredS(left)).toBeGreaterThan(5.8)
  })

  it('cannot be weighed in a damaged track', () => {
    expect(() => beyond(stored().slice(0, 1000))).toThrow(CompactError)
  })
})
