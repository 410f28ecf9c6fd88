import { describe, expect, it } from 'vitest'
import { addAt, bed, effect, noise } from '../../../test/signals'
import { PRIOR_FALSE_POSITIVE_RATE, scoreThreshold } from './confidence'
import { HEARING_RATE_HZ, WINDOW_FRAMES } from './constants'
import { preparedWindow } from './correlate'
import { type Detection, finalDetections } from './detections'
import { oppositionOf, oppositionWithout } from './opposed'
import { searchPlan } from './plan'
import { type PreparedSound, preparedSound } from './prepare'
import { Searcher } from './search'
import { searchSide, sideWindows } from './side'
import { takeOutOfSide } from './subtract'
import { type Track, trackOf } from './track'

const RATE_HZ = HEARING_RATE_HZ
const FRAMES = 10 * RATE_HZ
const effectOf = (seed: number): Float32Array => effect({ length: 1.2 * RATE_HZ, rateHz: RATE_HZ, seed })
const EFFECTS = [effectOf(31), effectOf(47)] as const
const SOUNDS = EFFECTS.map((samples) => preparedSound(samples) as PreparedSound)
const AT_S = 4
const NOWHERE = { opposed: [], partlyOpposed: [] }
const searcher = new Searcher()

/** A film with something in its middle, and in left and right some samples at these levels. */
function filmOf(samples: Float32Array, leftLevel: number, rightLevel: number): Track {
  const mid = bed({ length: FRAMES, rateHz: RATE_HZ, seed: 3, level: 0.05 })
  const side = noise(FRAMES, 4, 1e-3)
  addAt(mid, samples, AT_S * RATE_HZ, (leftLevel + rightLevel) / 2)
  addAt(side, samples, AT_S * RATE_HZ, (leftLevel - rightLevel) / 2)
  return trackOf(mid, side)
}

function heardInSide(track: Track, sounds: readonly PreparedSound[] = SOUNDS): Detection[] {
  const exchanged = track.exchanged()
  const about = { soundCount: sounds.length, durationS: FRAMES / RATE_HZ }
  const windows = [preparedWindow(exchanged, { start: 0, frames: FRAMES }, searcher.correlator.kernel)]
  const raw = searchSide(searcher, exchanged, windows, sounds, searchPlan(scoreThreshold(about), true))
  return finalDetections(raw, sounds, { ...about, chance: PRIOR_FALSE_POSITIVE_RATE, groups: [] })
}

const soundOf = ({ soundIndex }: Detection): PreparedSound => SOUNDS[soundIndex] as PreparedSound

describe('a search of the side', () => {
  it.each([
    ['right turned over', 1, -1, 0, 0],
    ['left turned over', -0.5, 0.5, -6.02, 0],
    ['more of it on the right', 0.3, -0.9, -3.47, 0.5],
    ['left alone', 1, 0, -3.01, -1],
    ['right alone', 0, 0.7, -6.11, 1],
  ])(
    'hears a sound with %s, with its level and balance, and says that it was there',
    (_, left, right, gainDb, balance) => {
      const found = heardInSide(filmOf(EFFECTS[0], left, right))
      expect(found).toHaveLength(1)
      expect(found[0]).toMatchObject({ soundIndex: 0, inSide: true, treatment: 'as-is', speed: 1 })
      expect(found[0]?.startS).toBeCloseTo(AT_S, 2)
      expect(found[0]?.gainDb).toBeCloseTo(gainDb, 0)
      expect(found[0]?.balance).toBeCloseTo(balance, 1)
    },
  )

  it('hears nothing of what is in the middle alone, and of no other sound', () => {
    expect(heardInSide(filmOf(EFFECTS[0], 1, 1))).toEqual([])
    expect(heardInSide(filmOf(effectOf(99), 1, -1))).toEqual([])
  })

  it('tells level and balance against the file, whose left and right may differ', () => {
    // Its file holds it on the left alone.
    const onLeft = preparedSound(EFFECTS[0], EFFECTS[0]) as PreparedSound
    const [asInFile] = heardInSide(filmOf(EFFECTS[0], 2, 0), [onLeft])
    expect(asInFile?.balance).toBe(0)
    expect(asInFile?.gainDb).toBeCloseTo(0, 0)
    const toTheLeft = preparedSound(
      EFFECTS[0],
      EFFECTS[0].map((value) => value / 2),
    ) as PreparedSound
    const [even] = heardInSide(filmOf(EFFECTS[0], 1, -1), [toTheLeft])
    expect(even?.balance).toBeCloseTo(0.5, 1)
  })

  it('is of what lies around opposed places, in windows that are ready at once', () => {
    const opposed = [
      { startS: 2, endS: 3 },
      { startS: 100, endS: 101 },
    ]
    const partlyOpposed = [{ startS: 112, endS: 113 }]
    const seconds = (start: number, end: number) => ({ start: start * RATE_HZ, frames: (end - start) * RATE_HZ })
    expect(sideWindows(116 * RATE_HZ, { opposed, partlyOpposed })).toEqual([seconds(0, 11), seconds(92, 116)])
    expect(sideWindows(116 * RATE_HZ, { opposed: [], partlyOpposed: [] })).toEqual([])
    const long = sideWindows(400 * RATE_HZ, { opposed: [{ startS: 0, endS: 400 }], partlyOpposed: [] })
    expect(long.length).toBeGreaterThan(3)
    expect(long.every(({ frames }) => frames <= WINDOW_FRAMES)).toBe(true)
    expect(long.reduce((end, { start, frames }) => (start === end ? end + frames : Number.NaN), 0)).toBe(400 * RATE_HZ)
  })
})

describe('the side without what was heard in it', () => {
  const placeOf = { startS: expect.closeTo(AT_S, 0), endS: expect.closeTo(AT_S + 1, 0) }

  it.each([1, -1])('opposes nothing any more, whichever way up it was (%i)', (level) => {
    const track = filmOf(EFFECTS[0], level, -level)
    const before = oppositionOf(track)
    expect([...before.opposed, ...before.partlyOpposed]).toContainEqual(placeOf)
    expect(oppositionWithout(track, () => takeOutOfSide(track, heardInSide(track), soundOf))).toEqual(NOWHERE)
  })

  it.each([0.8, 0.6])('opposes still where something else does so too, %f times as loud', (level) => {
    const track = filmOf(EFFECTS[0], 1, -1)
    const other = track.sideSamples(0, FRAMES)
    addAt(other, effectOf(99), AT_S * RATE_HZ, level)
    const both = trackOf(track.midSamples(0, FRAMES), other)
    const found = heardInSide(both)
    expect(found.map(({ soundIndex }) => soundIndex)).toEqual([0])
    const after = oppositionWithout(both, () => takeOutOfSide(both, found, soundOf))
    expect([...after.opposed, ...after.partlyOpposed].length).toBeGreaterThan(0)
  })

  it('opposes nothing where all else is silent, though a little of it is left', () => {
    const side = new Float32Array(FRAMES)
    addAt(side, EFFECTS[0], AT_S * RATE_HZ, 1)
    const track = trackOf(new Float32Array(FRAMES), side)
    const found = heardInSide(track)
    expect(oppositionWithout(track, () => takeOutOfSide(track, found, soundOf))).toEqual(NOWHERE)
    expect(oppositionOf(track)).not.toEqual(NOWHERE)
  })

  it('is the same where nothing was heard, and its middle always', () => {
    const track = filmOf(EFFECTS[0], 1, -1)
    const [mid, side] = [track.mid.slice(), track.side?.slice() ?? null]
    takeOutOfSide(track, [], soundOf)
    const differs = (one: Int16Array | Int8Array | null, other: typeof one): boolean =>
      one?.some((value, n) => value !== other?.[n]) ?? false
    expect(differs(track.side, side)).toBe(false)
    takeOutOfSide(track, heardInSide(track), soundOf)
    expect(differs(track.side, side)).toBe(true)
    expect(differs(track.mid, mid)).toBe(false)
  })
})
