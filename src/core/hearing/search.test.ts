import { describe, expect, it } from 'vitest'
import { addAt, bed, effect, noise, rms } from '../../../test/signals'
import { HEARING_RATE_HZ } from './constants'
import { preparedTrack } from './correlate'
import { type Detection, finalDetections } from './detections'
import { type PreparedSound, preparedSound } from './prepare'
import { Searcher } from './search'

const RATE_HZ = HEARING_RATE_HZ

/** Effects of 0.3 to 2.5 s, all different. */
const EFFECTS = [0.3, 0.5, 0.8, 1.2, 1.8, 2.5].map((durationS, index) =>
  effect({
    length: Math.round(durationS * RATE_HZ),
    rateHz: RATE_HZ,
    seed: 40 + index,
    frequencyHz: 300 + 240 * index,
  }),
)
const SOUNDS = EFFECTS.map(preparedSound)

function makeBed(durationS: number, seed: number): Float32Array {
  return bed({ length: durationS * RATE_HZ, rateHz: RATE_HZ, seed })
}

/** Lays an effect so that it stands `ratioDb` against the bed under it. Returns its gain, linear. */
function lay(track: Float32Array, samples: Float32Array, at: number, ratioDb: number): number {
  const gain = ((rms(track, at, at + samples.length) || 1) * 10 ** (ratioDb / 20)) / rms(samples)
  addAt(track, samples, at, gain)
  return gain
}

function heard(track: Float32Array, sounds: readonly (PreparedSound | null)[] = SOUNDS): Detection[] {
  return finalDetections(new Searcher().search(preparedTrack(track), sounds), sounds, track.length / RATE_HZ)
}

describe('a search', () => {
  it.each([6, 0, -6, -12])('finds every effect %i dB against speech and music, in place and level', (ratioDb) => {
    const track = makeBed(24, 5)
    const truth = EFFECTS.map((samples, index) => {
      const at = Math.round((1.37 + 3.6 * index) * RATE_HZ)
      return { index, at, gain: lay(track, samples, at, ratioDb) }
    })
    const found = heard(track)
    expect(found.map(({ soundIndex }) => soundIndex)).toEqual(truth.map(({ index }) => index))
    for (const [k, { at, gain, index }] of truth.entries()) {
      const find = found[k] as Detection
      expect(Math.abs(find.startS - find.fromS - at / RATE_HZ)).toBeLessThan(0.002)
      expect(Math.abs(find.gainDb - 20 * Math.log10(gain))).toBeLessThan(1.5)
      // Ends may be given up where the decayed tail drowns in the bed.
      expect(find.fromS).toBeLessThan(0.05)
      expect(find.toS).toBeLessThanOrEqual((EFFECTS[index] as Float32Array).length / RATE_HZ)
      expect(find.confidence).toBeGreaterThan(0.5)
      expect(find.confidence).toBeLessThanOrEqual(1)
    }
  })

  it.each([11, 12, 13])('hears nothing in speech and music alone (bed %i)', (seed) => {
    expect(heard(makeBed(40, seed))).toEqual([])
  })

  it('hears nothing in noise, in silence and in a track shorter than its sounds', () => {
    expect(heard(noise(10 * RATE_HZ, 3, 0.3))).toEqual([])
    expect(heard(new Float32Array(5 * RATE_HZ))).toEqual([])
    expect(heard(noise(300, 1))).toEqual([])
  })

  it('finds each repeat, also when two overlap', () => {
    const track = makeBed(14, 6)
    const samples = EFFECTS[3] as Float32Array
    const starts = [2, 6, 6.7, 11].map((second) => second * RATE_HZ)
    for (const at of starts) lay(track, samples, at, 0)
    const found = heard(track)
    expect(found.map(({ startS, fromS }) => Math.round((startS - fromS) * 100) / 100)).toEqual([2, 6, 6.7, 11])
    expect(new Set(found.map(({ soundIndex }) => soundIndex))).toEqual(new Set([3]))
  })

  it('finds two different effects at the same time', () => {
    const track = makeBed(8, 7)
    lay(track, EFFECTS[4] as Float32Array, 3 * RATE_HZ, 0)
    lay(track, EFFECTS[1] as Float32Array, 3.4 * RATE_HZ, -3)
    expect(
      heard(track)
        .map(({ soundIndex }) => soundIndex)
        .sort(),
    ).toEqual([1, 4])
  })

  it('reports a trimmed effect as the part that is heard', () => {
    const samples = noise(2.5 * RATE_HZ, 81).map((value, n) => value * (0.4 + 0.3 * Math.sin(n / 900)))
    const sound = preparedSound(samples)
    const track = makeBed(9, 8)
    lay(track, samples.slice(0.6 * RATE_HZ, 1.9 * RATE_HZ), 4 * RATE_HZ, 0)
    const [find, ...more] = heard(track, [sound])
    expect(more).toEqual([])
    expect(Math.abs((find as Detection).fromS - 0.6)).toBeLessThan(0.05)
    expect(Math.abs((find as Detection).toS - 1.9)).toBeLessThan(0.05)
    expect(Math.abs((find as Detection).startS - 4)).toBeLessThan(0.05)
    expect(Math.abs((find as Detection).endS - 5.3)).toBeLessThan(0.05)
  })

  it('finds an effect that is cut off by the end of the track', () => {
    const samples = EFFECTS[5] as Float32Array
    const track = makeBed(6, 9)
    lay(track, samples, 4.6 * RATE_HZ, 3)
    const [find] = heard(track, [SOUNDS[5] as PreparedSound])
    expect(Math.abs((find as Detection).startS - 4.6)).toBeLessThan(0.02)
    expect((find as Detection).endS).toBeLessThanOrEqual(6)
  })

  it('reports a recording that is listed twice once', () => {
    const track = makeBed(6, 10)
    const samples = EFFECTS[2] as Float32Array
    lay(track, samples, 2 * RATE_HZ, 0)
    const quieter = preparedSound(samples.map((value) => value * 0.5))
    expect(heard(track, [SOUNDS[2] as PreparedSound, quieter])).toHaveLength(1)
  })

  it('does not report what is far too quiet to be heard', () => {
    const track = makeBed(6, 14)
    lay(track, EFFECTS[5] as Float32Array, 2 * RATE_HZ, -40)
    expect(heard(track)).toEqual([])
  })

  it('gives the same result every time', () => {
    const track = makeBed(6, 12)
    lay(track, EFFECTS[1] as Float32Array, 3 * RATE_HZ, -3)
    expect(heard(track)).toEqual(heard(track))
  })

  it('passes over sounds that cannot be heard, keeping the numbering', () => {
    const track = makeBed(6, 15)
    lay(track, EFFECTS[3] as Float32Array, 2 * RATE_HZ, 0)
    const found = heard(track, [preparedSound(new Float32Array(8000)), null, SOUNDS[3] as PreparedSound])
    expect(found.map(({ soundIndex }) => soundIndex)).toEqual([2])
  })
})

describe('preparedSound', () => {
  it.each([
    ['nothing', new Float32Array(0)],
    ['less than 0.12 s', noise(0.11 * RATE_HZ, 1)],
    ['silence', new Float32Array(RATE_HZ)],
  ])('gives null for %s', (_what, samples) => {
    expect(preparedSound(samples)).toBeNull()
  })

  it('cuts into pieces of at most a second and keeps the five most energetic', () => {
    const samples = noise(9 * RATE_HZ, 5).map((value, n) => value * (n > 3 * RATE_HZ && n < 8 * RATE_HZ ? 1 : 0.3))
    const pieces = preparedSound(samples)?.pieces ?? []
    expect(pieces).toHaveLength(5)
    for (const piece of pieces) {
      expect(piece.samples.length).toBeLessThanOrEqual(RATE_HZ)
      expect(piece.start).toBeGreaterThanOrEqual(3 * RATE_HZ - 1)
      expect(rms(piece.samples) * Math.sqrt(piece.samples.length)).toBeCloseTo(1, 4)
    }
  })

  it('leaves out pieces that are far quieter than the rest', () => {
    const samples = noise(2 * RATE_HZ, 5).map((value, n) => value * (n < RATE_HZ ? 1 : 1e-4))
    expect(preparedSound(samples)?.pieces.map(({ start }) => start)).toEqual([0])
  })
})
