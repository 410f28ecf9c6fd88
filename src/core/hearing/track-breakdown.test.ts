import { describe, expect, it } from 'vitest'
import { addAt, bed, effect, noise } from '../../../test/signals'
import { coveredS } from '../time-range'
import { BREAKDOWN_HOP } from './breakdown-steps'
import type { Detection } from './detections'
import { trackOf } from './track'
import { trackBreakdown } from './track-breakdown'

const RATE_HZ = 16000

/** Probabilities of a voice: 1 in the given stretches, s. */
function speechIn(durationS: number, stretches: readonly (readonly [number, number])[]): Float32Array {
  const steps = Math.ceil((durationS * RATE_HZ) / BREAKDOWN_HOP)
  return new Float32Array(steps).map((_, step) => {
    const second = (step * BREAKDOWN_HOP) / RATE_HZ
    return stretches.some(([from, to]) => second >= from && second < to) ? 0.95 : 0.02
  })
}

/** Chords that change: what music looks like to the analysis. */
function chords(durationS: number): Float32Array {
  return new Float32Array(durationS * RATE_HZ).map((_, n) => {
    const t = n / RATE_HZ
    const root = 220 * 2 ** (([0, 5, 7, 3][Math.floor(t / 1.5) % 4] as number) / 12)
    // Each comes and goes softly.
    const level = 0.05 * Math.sin((Math.PI * (t % 1.5)) / 1.5) ** 0.3
    return [1, 1.25, 1.5, 2, 3].reduce((sum, ratio) => sum + level * Math.sin(2 * Math.PI * root * ratio * t), 0)
  })
}

function detection(startS: number, endS: number): Detection {
  const plain = { alternatives: [], speed: 1, cutoffHz: null, balance: 0, fadeInS: 0, fadeOutS: 0, gainDb: 0 }
  return { ...plain, soundIndex: 0, startS, endS, fromS: 0, toS: 1, treatment: 'as-is', score: 20, confidence: 1 }
}

describe('trackBreakdown', () => {
  it('divides a track into speech, music, noise and silence', { tags: 'long' }, () => {
    const samples = new Float32Array(40 * RATE_HZ)
    samples.set(noise(10 * RATE_HZ, 3, 0.05))
    samples.set(chords(10), 10 * RATE_HZ)
    samples.set(noise(10 * RATE_HZ, 4, 0.05), 20 * RATE_HZ)
    const { segments, secondsOf, explainedFraction } = trackBreakdown(trackOf(samples), speechIn(40, [[20, 30]]), [])
    expect(segments.map(({ kind }) => kind)).toEqual(['noise', 'music', 'speech', 'silence'])
    expect(Math.abs((segments[1]?.startS ?? 0) - 10)).toBeLessThan(1.5)
    expect(Math.abs((segments[2]?.startS ?? 0) - 20)).toBeLessThan(0.1)
    expect(segments[3]?.endS).toBe(40)
    expect(Math.abs(secondsOf.speech - 10)).toBeLessThan(0.2)
    expect(Math.abs(secondsOf.silence - 10)).toBeLessThan(0.2)
    expect(explainedFraction).toBeGreaterThan(0.98)
  })

  it('covers the whole track without gaps', () => {
    const samples = bed({ length: 20 * RATE_HZ, rateHz: RATE_HZ, seed: 6 })
    const { segments } = trackBreakdown(
      trackOf(samples),
      speechIn(20, [
        [3, 3.2],
        [7, 9],
      ]),
      [],
    )
    expect(segments[0]?.startS).toBe(0)
    expect(segments[segments.length - 1]?.endS).toBe(20)
    segments.slice(1).forEach((segment, k) => {
      expect(segment.startS).toBe(segments[k]?.endS)
      expect(segment.kind).not.toBe(segments[k]?.kind)
    })
  })

  it('finds what stands out of a bed of noise, with its place, band and level', () => {
    const samples = noise(20 * RATE_HZ, 5, 0.004)
    addAt(samples, effect({ length: 0.5 * RATE_HZ, rateHz: RATE_HZ, seed: 8 }), 8 * RATE_HZ, 0.5)
    const { unexplained, secondsOf, explainedFraction } = trackBreakdown(trackOf(samples), speechIn(20, []), [])
    expect(unexplained).toHaveLength(1)
    const [event] = unexplained
    expect(Math.abs((event?.startS ?? 0) - 8)).toBeLessThan(0.07)
    expect(event?.endS).toBeGreaterThan(8.1)
    expect(event?.lowHz).toBeLessThan(700)
    expect(event?.levelDb).toBeGreaterThan(-30)
    expect(explainedFraction).toBeCloseTo(1 - secondsOf.unexplained / 20, 6)
  })

  it('calls nothing unexplained where someone speaks or a sound was heard', () => {
    const samples = noise(20 * RATE_HZ, 5, 0.004)
    const sound = effect({ length: 0.4 * RATE_HZ, rateHz: RATE_HZ, seed: 9 })
    addAt(samples, sound, 4 * RATE_HZ, 0.5)
    const whole = samples.slice()
    addAt(whole, sound, 12 * RATE_HZ, 0.5)
    // A third of it cannot be taken out.
    addAt(samples, sound, 12 * RATE_HZ, 0.15)
    const breakdown = trackBreakdown(trackOf(samples), speechIn(20, [[3.5, 5]]), [detection(12, 12.4)], trackOf(whole))
    expect(breakdown.unexplained).toEqual([])
    expect(breakdown.secondsOf.heard).toBeGreaterThan(0.35)
  })

  describe('where a sound is heard', () => {
    /** A listed ambience over all of a track, and something else: what is left without the ambience. */
    const heardOver = (other: Float32Array, ambience: number, more: Partial<Detection> = {}, left = 0.02) => {
      const wind = noise(20 * RATE_HZ, 11, ambience)
      const whole = other.map((value, n) => value + (wind[n] as number))
      // A codec changes a sound a little: not all of it can be taken out.
      const rest = other.map((value, n) => value + left * (wind[n] as number))
      const find = { ...detection(0, 20), ...more }
      return trackBreakdown(trackOf(rest), speechIn(20, []), [find], trackOf(whole))
    }
    const nothing = new Float32Array(20 * RATE_HZ)
    const music = chords(20)

    it('is explained by it where little is left without it', () => {
      expect(heardOver(nothing, 0.1).beyondHeard).toEqual([])
      expect(heardOver(nothing, 0.1, {}, 0.4).beyondHeard).toEqual([])
      expect(heardOver(nothing, 0.0004, {}, 0.9).beyondHeard).toEqual([])
    })

    it('has more in it where music or a bed goes on without it', () => {
      expect(coveredS(heardOver(music, 0.02).beyondHeard)).toBeGreaterThan(18)
      expect(coveredS(heardOver(noise(20 * RATE_HZ, 12, 0.1), 0.1).beyondHeard)).toBeGreaterThan(18)
      // Far under it, it cannot be told from what a codec leaves.
      expect(heardOver(noise(20 * RATE_HZ, 12, 0.03), 0.1).beyondHeard).toEqual([])
    })

    it('has more in it just there where that is', () => {
      const late = nothing.slice()
      late.set(music.subarray(0, 8 * RATE_HZ), 10 * RATE_HZ)
      const { beyondHeard } = heardOver(late, 0.02)
      expect(beyondHeard[0]?.startS).toBeGreaterThan(9.5)
      expect(beyondHeard[0]?.startS).toBeLessThan(10.6)
      expect(beyondHeard.at(-1)?.endS).toBeLessThan(18.5)
    })

    it('hides no effect that nothing explains', () => {
      const slam = nothing.slice()
      addAt(slam, effect({ length: 0.5 * RATE_HZ, rateHz: RATE_HZ, seed: 8 }), 8 * RATE_HZ, 0.5)
      const { unexplained } = heardOver(slam, 0.02)
      expect(unexplained.map(({ startS }) => Math.round(startS * 10) / 10)).toEqual([8])
      // The same as part of what was heard is explained: it is taken out with it.
      expect(heardOver(nothing, 0.02).unexplained).toEqual([])
    })

    it('is not told from what is left where a sound cannot be taken out exactly, nor under a voice', () => {
      for (const treatment of ['room', 'speed', 'speed-pitch-kept'] as const)
        expect(heardOver(music, 0.02, { treatment }).beyondHeard).toEqual([])
      const spoken = trackBreakdown(trackOf(music), speechIn(20, [[0, 20]]), [detection(0, 20)], trackOf(music))
      expect(spoken.beyondHeard).toEqual([])
    })
  })

  describe('over music', () => {
    const hit = effect({ length: 0.3 * RATE_HZ, rateHz: RATE_HZ, seed: 8 })
    const atSeconds = (samples: Float32Array): number[] =>
      trackBreakdown(trackOf(samples), speechIn(samples.length / RATE_HZ, []), []).unexplained.map(({ startS }) =>
        Math.round(startS),
      )

    it.each([
      ['in a short track', 20, 8, 15],
      ['in a long one', 60, 40, 51],
    ])(
      'takes beats that come again and again for its own, and what comes once for itself, %s',
      { tags: 'long' },
      (_, lengthS, untilS, onceS) => {
        const samples = chords(lengthS)
        for (let second = 2; second < untilS; second += 0.75) addAt(samples, hit, second * RATE_HZ, 2)
        addAt(samples, hit, onceS * RATE_HZ, 2)
        expect(atSeconds(samples)).toEqual([onceS])
      },
    )

    /** Music with a hiss all over it, that leaves no band empty. */
    const hissing = (durationS: number): Float32Array => {
      const samples = chords(durationS)
      addAt(samples, noise(samples.length, 21, 0.02), 0, 1)
      return samples
    }
    const burst = noise(0.6 * RATE_HZ, 9, 0.07)

    it('finds noise that is no louder than the music, because it comes once', { tags: 'long' }, () => {
      const once = hissing(60)
      addAt(once, burst, 33.1 * RATE_HZ, 1)
      expect(atSeconds(once)).toEqual([33])
      const inEveryBar = hissing(60)
      for (let second = 0.9; second < 59; second += 1.5) addAt(inEveryBar, burst, second * RATE_HZ, 1)
      expect(atSeconds(inEveryBar)).toEqual([])
    })

    it('says nothing of what is no louder where there is too little music to compare with', () => {
      const short = hissing(16)
      addAt(short, burst, 8.1 * RATE_HZ, 1)
      expect(atSeconds(short)).toEqual([])
    })
  })

  it('takes silence and nothing', () => {
    const silent = trackBreakdown(trackOf(new Float32Array(5 * RATE_HZ)), speechIn(5, []), [])
    expect(silent.segments).toEqual([{ kind: 'silence', startS: 0, endS: 5 }])
    expect(silent.explainedFraction).toBe(1)
    expect(trackBreakdown(trackOf(new Float32Array(0)), new Float32Array(0), []).unexplained).toEqual([])
  })
})
