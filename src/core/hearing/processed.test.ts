import { describe, expect, it } from 'vitest'
import { addAt, bed, noise, rms } from '../../../test/signals'
import { PRIOR_FALSE_POSITIVE_RATE, scoreThreshold } from './confidence'
import { preparedWindow, trackWindows } from './correlate'
import { type Detection, finalDetections } from './detections'
import { searchPlan } from './plan'
import { type PreparedSound, preparedSound } from './prepare'
import { TreatedSearcher } from './processed'
import { Searcher } from './search'
import { spedSound, spedStretch } from './speed'
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

/** Grains of 40 ms from where the speed says, laid over each other by half: faster or slower, the pitch as it was. */
function stretchedInTime(samples: Float32Array, speed: number): Float32Array {
  const grain = 640
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
  ])('finds sound %i at %d of its speed, pitch kept', (index, speed) => {
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

describe('spedStretch', () => {
  it('moves the pitch with the speed and keeps the level', () => {
    const tone = Float32Array.from({ length: 8000 }, (_, n) => Math.sin((2 * Math.PI * 1000 * n) / RATE_HZ))
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
