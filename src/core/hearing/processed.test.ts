import { describe, expect, it } from 'vitest'
import { addAt, bed, noise, rms } from '../../../test/signals'
import { PRIOR_FALSE_POSITIVE_RATE, scoreThreshold } from './confidence'
import { preparedWindow, trackWindows } from './correlate'
import { type Detection, finalDetections } from './detections'
import { bestProducts, proposalsIn, soundTemplates, trackPatches } from './lookup'
import { searchPlan } from './plan'
import { type PreparedSound, preparedSound } from './prepare'
import { LookedUpSearcher, TreatedSearcher } from './processed'
import { type RawDetection, Searcher } from './search'
import { spedSound, spedStretch } from './speed'
import { PitchPreservedSearcher } from './time-stretched'
import { trackOf } from './track'

const RATE_HZ = 16000

/** A sound with a tone that wanders and noise that flutters, so that no part of it is like another. */
function wandering(durationS: number, seed: number): Float32Array {
  const hiss = noise(durationS * RATE_HZ, seed)
  let low = 0
  let phase = 0
  return hiss.map((value, n) => {
    const t = n / RATE_HZ
    low += 0.4 * (value - low)
    phase += (2 * Math.PI * (500 + 300 * Math.sin(5 * t + seed) + 120 * Math.sin(23 * t))) / RATE_HZ
    return 0.3 * (low * (1 + Math.sin(31 * t)) + 0.6 * Math.sin(phase))
  })
}

const SOUNDS = [1.4, 1, 2].map((durationS, k) => preparedSound(wandering(durationS, 50 + k)) as PreparedSound)

/**
 * Grains from where the speed says, laid over each other by half: faster or slower, the pitch as it was.
 *
 * @param grain Their length, frames: 40 ms where nothing else is said.
 */
function stretchedInTime(samples: Float32Array, speed: number, grain = 640): Float32Array {
  const out = new Float32Array(Math.floor(samples.length / speed))
  for (let at = 0; at + grain < out.length; at += grain / 2) {
    const from = Math.round(at * speed)
    for (let n = 0; n < grain; n++)
      out[at + n] = (out[at + n] as number) + (samples[from + n] ?? 0) * Math.sin((Math.PI * (n + 0.5)) / grain) ** 2
  }
  return out
}

function lay(track: Float32Array, samples: Float32Array, at: number, ratioDb: number): void {
  addAt(track, samples, at, (rms(track, at, at + samples.length) * 10 ** (ratioDb / 20)) / rms(samples))
}

const searcher = new Searcher()
const treated = new TreatedSearcher(searcher.correlator, searcher.cells)
const lookedUp = new LookedUpSearcher(searcher.correlator, searcher.cells)

function heard(samples: Float32Array): Detection[] {
  const track = trackOf(samples)
  const durationS = track.frames / RATE_HZ
  const plan = searchPlan(scoreThreshold({ soundCount: SOUNDS.length, durationS }), true)
  const windows = trackWindows(track.frames).map((range) => preparedWindow(track, range, searcher.correlator.kernel))
  const plain = searcher.search(track, windows, SOUNDS, plan)
  const sped = treated.search(track, windows, SOUNDS, { plain, scoreMin: plan.scoreMin })
  const settings = { durationS, soundCount: SOUNDS.length, chance: PRIOR_FALSE_POSITIVE_RATE, groups: [] }
  return finalDetections([...plain, ...sped], SOUNDS, settings)
}

function makeBed(seed: number): Float32Array {
  return bed({ length: 10 * RATE_HZ, rateHz: RATE_HZ, seed })
}

describe('the search at other speeds', () => {
  it.each([
    [0, 0.8],
    [1, 0.93],
    [0, 1.11],
    [2, 1.25],
  ])('finds sound %i at %d of its speed, pitch moving along', (index, speed) => {
    const track = makeBed(60 + index)
    lay(track, spedSound((SOUNDS[index] as PreparedSound).samples, speed), 4 * RATE_HZ, 0)
    const [find, ...more] = heard(track)
    expect(more).toEqual([])
    expect(find).toMatchObject({ soundIndex: index, treatment: 'speed' })
    expect(Math.abs((find?.speed ?? 0) / speed - 1)).toBeLessThan(0.002)
    expect(Math.abs((find?.startS ?? 0) - (find?.fromS ?? 0) / speed - 4)).toBeLessThan(0.005)
  })

  it.each([
    [0, 0.85],
    [2, 1.18],
  ])('finds sound %i at %d of its speed, pitch kept', { tags: 'long' }, (index, speed) => {
    const track = makeBed(70 + index)
    lay(track, stretchedInTime((SOUNDS[index] as PreparedSound).samples, speed), 4 * RATE_HZ, 3)
    const [find, ...more] = heard(track)
    expect(more).toEqual([])
    expect(find).toMatchObject({ soundIndex: index, treatment: 'speed-pitch-kept' })
    expect(Math.abs((find?.speed ?? 0) / speed - 1)).toBeLessThan(0.02)
    expect(Math.abs((find?.startS ?? 0) - 4)).toBeLessThan(0.2)
  })

  it('leaves a sound that is placed in the mix as it is to the plain search', () => {
    const track = makeBed(80)
    lay(track, (SOUNDS[1] as PreparedSound).samples, 4 * RATE_HZ, 0)
    expect(heard(track).map(({ treatment, speed }) => [treatment, speed])).toEqual([['as-is', 1]])
  })

  it.each([81, 82])('hears nothing in speech and music alone (bed %i)', (seed) => {
    expect(heard(bed({ length: 30 * RATE_HZ, rateHz: RATE_HZ, seed }))).toEqual([])
  })
})

/** As the sounds of a catalogue are searched: quicker, and at other speeds only where something says that they are there. */
function heardOfCatalogue(samples: Float32Array) {
  const track = trackOf(samples)
  const durationS = track.frames / RATE_HZ
  const threshold = scoreThreshold({ soundCount: SOUNDS.length, durationS })
  const plan = searchPlan(threshold, false)
  const [range] = trackWindows(track.frames) as [{ start: number; frames: number }]
  const window = preparedWindow(track, range, searcher.correlator.kernel)
  const plain = searcher.search(track, [window], SOUNDS, plan)
  const templates = SOUNDS.map((sound) => soundTemplates(sound.samples))
  const proposals = proposalsIn(trackPatches(track, range), templates, bestProducts())
  const sped = SOUNDS.flatMap((sound, soundIndex) => {
    const own = <T extends { readonly soundIndex: number }>(of: readonly T[]): T[] =>
      of.filter((one) => one.soundIndex === soundIndex)
    const about = { soundIndex, proposals: own(proposals), plain: own(plain), threshold, scoreMin: plan.scoreMin }
    return lookedUp.search(track, window, sound, about)
  })
  const settings = { durationS, soundCount: SOUNDS.length, chance: PRIOR_FALSE_POSITIVE_RATE, groups: [] }
  const settled = (raw: readonly RawDetection[]): Detection[] => finalDetections(raw, SOUNDS, settings)
  return { plain, sped, settled, all: settled([...plain, ...sped]) }
}

describe('a catalogue at other speeds', () => {
  it('says once what answers in grains: a sound with its pitch kept', { tags: 'long' }, () => {
    const track = makeBed(72)
    lay(track, stretchedInTime((SOUNDS[2] as PreparedSound).samples, 1.1, 3200), 4 * RATE_HZ, 6)
    const { plain, all } = heardOfCatalogue(track)
    // Without the look at the whole line there would be parts of the sound, as if they were laid one by one.
    expect(plain.length).toBeGreaterThan(0)
    expect(all.map(({ soundIndex, treatment }) => [soundIndex, treatment])).toEqual([[2, 'speed-pitch-kept']])
    expect(Math.abs((all[0]?.speed ?? 0) / 1.1 - 1)).toBeLessThan(0.02)
  })

  it.each([
    [0, 0.85],
    [2, 1.18],
  ])(
    'hears sound %i at %d of its speed with its pitch kept, of which no part was found as it is',
    { tags: 'long' },
    (index, speed) => {
      const track = makeBed(70 + index)
      lay(track, stretchedInTime((SOUNDS[index] as PreparedSound).samples, speed), 4 * RATE_HZ, 3)
      const { plain, all } = heardOfCatalogue(track)
      expect(plain).toEqual([])
      expect(all.map(({ soundIndex, treatment }) => [soundIndex, treatment])).toEqual([[index, 'speed-pitch-kept']])
      expect(Math.abs((all[0]?.speed ?? 0) / speed - 1)).toBeLessThan(0.02)
    },
  )

  it('looks for nothing with its pitch kept where the loudest of it is not heard, or the sound is too short', () => {
    const kept = new PitchPreservedSearcher(searcher.correlator)
    const track = makeBed(76)
    const [one, other] = SOUNDS as [PreparedSound, PreparedSound]
    lay(track, stretchedInTime(one.samples, 1.1), 4 * RATE_HZ, 0)
    const [range] = trackWindows(track.length) as [{ start: number; frames: number }]
    const window = preparedWindow(trackOf(track), range, searcher.correlator.kernel)
    expect(kept.isAnswered(window, one)).toBe(true)
    expect(kept.isAnswered(window, other)).toBe(false)
    const short = preparedSound(one.samples.slice(0, 3900)) as PreparedSound
    expect(kept.isAnswered(window, short)).toBe(false)
  })

  it('does not take a trimmed sound for one with its pitch kept, nor one that is there as it is', {
    tags: 'long',
  }, () => {
    const track = makeBed(73)
    const whole = (SOUNDS[2] as PreparedSound).samples
    lay(track, whole.slice(0.4 * RATE_HZ, RATE_HZ), 2 * RATE_HZ, 3)
    lay(track, (SOUNDS[1] as PreparedSound).samples, 6 * RATE_HZ, 3)
    const { all } = heardOfCatalogue(track)
    expect(all.map(({ soundIndex, treatment, speed }) => [soundIndex, treatment, speed])).toEqual([
      [2, 'as-is', 1],
      [1, 'as-is', 1],
    ])
  })

  it('hears one that is slower with its pitch, and nothing in a bed alone', { tags: 'long' }, () => {
    const track = makeBed(74)
    lay(track, spedSound((SOUNDS[0] as PreparedSound).samples, 0.86), 5 * RATE_HZ, 0)
    const { sped, settled, all } = heardOfCatalogue(track)
    expect(all).toMatchObject([{ soundIndex: 0, treatment: 'speed' }])
    // A sound that lies over the border of two windows is heard in both, a little differently.
    const again = sped.map((find) => ({ ...find, lag: find.lag + 3, score: 0.9 * find.score }))
    expect(settled([...sped, ...again])).toHaveLength(1)
    expect(heardOfCatalogue(makeBed(75)).all).toEqual([])
  })
})

describe('spedStretch', () => {
  it('moves the pitch with the speed and keeps the level', () => {
    const tone = new Float32Array(8000).map((_, n) => Math.sin((2 * Math.PI * 1000 * n) / RATE_HZ))
    const fast = spedStretch(tone, 1.25, 4000, 3000)
    const crossings = fast.reduce(
      (count, value, n) => count + (n > 0 && value >= 0 && (fast[n - 1] as number) < 0 ? 1 : 0),
      0,
    )
    expect(Math.abs(crossings - (3000 * 1250) / RATE_HZ)).toBeLessThanOrEqual(1)
    expect(rms(fast)).toBeCloseTo(Math.SQRT1_2, 2)
  })

  it('is silent outside the sound', () => {
    const out = spedStretch(new Float32Array(100).fill(1), 1, 50, 400)
    expect(out[0]).toBe(0)
    expect(out[200]).toBeCloseTo(1, 2)
    expect(out[399]).toBe(0)
  })
})
