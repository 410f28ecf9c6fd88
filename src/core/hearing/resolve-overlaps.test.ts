import { describe, expect, it } from 'vitest'
import { effect, noise } from '../../../test/signals'
import { HEARING_RATE_HZ } from './constants'
import { type PreparedSound, preparedSound } from './prepare'
import { resolveOverlaps } from './resolve-overlaps'
import type { RawDetection } from './search'

const LENGTH = 16000
const FIRST = effect({ length: LENGTH, rateHz: HEARING_RATE_HZ, seed: 3 })
const OTHER = effect({ length: LENGTH, rateHz: HEARING_RATE_HZ, seed: 9, frequencyHz: 1500 })

/** A relative of a sound: the same with some noise of its own. */
function relative(samples: Float32Array, share: number): Float32Array {
  const own = noise(samples.length, 5, 0.3)
  return samples.map((value, i) => (1 - share) * value + share * (own[i] as number))
}

const SOUNDS: readonly (PreparedSound | null)[] = [FIRST, OTHER, relative(FIRST, 0.3)].map((samples) =>
  preparedSound(samples),
)

function find(soundIndex: number, lag: number, score: number, gain = 1, evidence = score * 10): RawDetection {
  const plain = { balance: 0, fadeIn: 0, fadeOut: 0, cutoffHz: null, echoes: 1, coherence: score }
  return { soundIndex, lag, from: 0, to: LENGTH, gain, score, evidence, ...plain }
}

describe('resolveOverlaps', () => {
  it('keeps finds that do not overlap, in the order of the track', () => {
    const finds = [find(1, 50000, 9), find(0, 0, 20), find(2, 20000, 8)]
    expect(resolveOverlaps(finds, SOUNDS).map(({ lag }) => lag)).toEqual([0, 20000, 50000])
  })

  it('keeps different sounds at the same time', () => {
    expect(resolveOverlaps([find(0, 0, 30), find(1, 2000, 9)], SOUNDS)).toHaveLength(2)
  })

  it('holds what lies late in a long find against it, though something short ended meanwhile', () => {
    const long = effect({ length: 10 * LENGTH, rateHz: HEARING_RATE_HZ, seed: 21 })
    const late = long.slice(8 * LENGTH, 9 * LENGTH)
    const sounds = [long, OTHER, late].map((samples) => preparedSound(samples))
    const whole = { ...find(0, 0, 40), to: 10 * LENGTH }
    const finds = [find(2, 8 * LENGTH, 25), whole, find(1, LENGTH, 20), find(1, 12 * LENGTH, 20)]
    const standing = resolveOverlaps(finds, sounds).map(({ soundIndex, lag }) => [soundIndex, lag / LENGTH])
    expect(standing).toEqual([
      [0, 0],
      [1, 1],
      [1, 12],
    ])
  })

  it('drops a relative of what is really there, whichever comes first', () => {
    for (const finds of [
      [find(0, 100, 30), find(2, 100, 18)],
      [find(2, 100, 18), find(0, 100, 30)],
    ])
      expect(resolveOverlaps(finds, SOUNDS).map(({ soundIndex }) => soundIndex)).toEqual([0])
  })

  it('names a relative that answered nearly as much: which of the two it is can hardly be told', () => {
    const sounds = [FIRST, OTHER, relative(FIRST, 0.17)].map((samples) => preparedSound(samples))
    const named = (finds: readonly RawDetection[]): unknown =>
      resolveOverlaps(finds, sounds).map(({ soundIndex, alternatives }) => [soundIndex, alternatives])
    for (const score of [24.5, 29])
      for (const finds of [
        [find(0, 100, 30), find(2, 100, score)],
        [find(2, 100, score), find(0, 100, 30)],
      ])
        expect(named(finds)).toEqual([[0, [2]]])
    // What answered much more weakly is what the stronger one explains, and no doubt.
    expect(named([find(0, 100, 30), find(2, 100, 20)])).toEqual([[0, []]])
    // The same sound again is no other sound, and what only touches it stands elsewhere.
    expect(named([find(0, 100, 30), find(0, 2000, 29, 0.4)])).toEqual([[0, []]])
    // A line of grains reaches high scores with anything.
    expect(named([find(0, 100, 30), { ...find(2, 100, 29), treatment: 'speed-pitch-kept' }])).toEqual([[0, []]])
  })

  it('drops the same place found twice', () => {
    expect(resolveOverlaps([find(0, 100, 30), find(0, 103, 29)], SOUNDS)).toHaveLength(1)
  })

  it('drops the echo of a sound, and keeps its repeat', () => {
    expect(resolveOverlaps([find(0, 0, 30), find(0, 6000, 26, 0.4)], SOUNDS)).toHaveLength(1)
    expect(resolveOverlaps([find(0, 0, 30), find(0, 6000, 28, 0.9)], SOUNDS)).toHaveLength(2)
  })

  it('tells a sound of which all is heard, not a longer one that holds it and more', () => {
    const medley = new Float32Array(4 * LENGTH)
    medley.set(FIRST, LENGTH)
    medley.set(OTHER, 2.5 * LENGTH)
    const sounds = [...SOUNDS, preparedSound(medley)]
    const lag = 5000
    const whole = find(0, lag, 24)
    const part: RawDetection = { ...find(3, lag - LENGTH, 26), from: LENGTH, to: 2 * LENGTH }
    for (const finds of [
      [whole, part],
      [part, whole],
    ]) {
      const [only, ...more] = resolveOverlaps(finds, sounds)
      expect(more).toEqual([])
      expect(only).toMatchObject({ soundIndex: 0, alternatives: [3] })
    }
    // Of two that are nearly as long the stronger answer counts, though less of it is heard.
    const twin = [...SOUNDS, preparedSound(new Float32Array([...FIRST, ...new Float32Array(LENGTH / 4)]))]
    const less: RawDetection = { ...find(3, lag, 26), from: 0, to: LENGTH / 2 }
    expect(resolveOverlaps([whole, less], twin)[0]?.soundIndex).toBe(3)
    // Where more of the longer one is heard than that, it is the longer one.
    const longer: RawDetection = { ...find(3, lag - LENGTH, 26), from: LENGTH, to: 4 * LENGTH }
    expect(resolveOverlaps([whole, longer], sounds)[0]?.soundIndex).toBe(3)
  })

  it('tells the one of which all is heard also where the longer one explains more, and the longer one where more of it is heard', () => {
    const long = effect({ length: 4 * LENGTH, rateHz: HEARING_RATE_HZ, seed: 31 })
    const sounds = [long, long.slice(0, LENGTH)].map((samples) => preparedSound(samples))
    const named = (heardOfLong: number, evidences: readonly [long: number, short: number]): number[] => {
      const part = { ...find(0, 0, 20, 1, evidences[0]), to: heardOfLong }
      const whole = find(1, 0, 21, 1, evidences[1])
      const orders = [
        [part, whole],
        [whole, part],
      ]
      return orders.flatMap((order) => resolveOverlaps(order, sounds).map(({ soundIndex }) => soundIndex))
    }
    expect(named(LENGTH, [900, 700])).toEqual([1, 1])
    expect(named(1.2 * LENGTH, [900, 700])).toEqual([1, 1])
    // Under a half of the long one, but twice what the short one is.
    expect(named(2 * LENGTH, [900, 700])).toEqual([0, 0])
    // A pause before it is no more of the long one.
    const paused = preparedSound(new Float32Array([...new Float32Array(LENGTH), ...long]))
    const part = { ...find(0, -LENGTH, 20, 1, 900), to: 2 * LENGTH }
    const [only] = resolveOverlaps([part, find(1, 0, 19, 1, 700)], [paused, sounds[1] ?? null])
    expect(only?.soundIndex).toBe(1)
  })

  it('names the other sounds of the same recording, heard or not', () => {
    const [only, ...more] = resolveOverlaps([find(0, 0, 30), find(2, 0, 29)], SOUNDS, [[0, 1, 2]])
    expect(more).toEqual([])
    expect(only?.soundIndex).toBe(0)
    expect(only?.alternatives).toEqual([1, 2])
  })

  it('lets the rival that explains clearly more of the track win, and stays as sure', () => {
    const [only, ...more] = resolveOverlaps([find(0, 0, 30, 1, 100), find(2, 0, 28, 1, 180)], SOUNDS, [[0, 2]])
    expect(more).toEqual([])
    expect(only).toMatchObject({ soundIndex: 2, score: 30, alternatives: [0] })
  })

  it('has nothing to settle in nothing', () => {
    expect(resolveOverlaps([], SOUNDS)).toEqual([])
  })
})
