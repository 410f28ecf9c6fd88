import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { areSame } from '../../../test/signals'
import { clipLoudness, TruePeak } from '../audio'
import { EMPTY_SCORE, newLayer, newPlacement, type Score } from '../score'
import { deliverMix } from './deliver'
import { TruePeakLimiter } from './limiter'
import { Mixer } from './mixer'
import { memorySource } from './pcm'

const RATE_HZ = 48_000

function limited(
  samples: Float32Array,
  ceilingDbtp: number,
  block: number,
): { out: Float32Array; limiter: TruePeakLimiter } {
  const limiter = new TruePeakLimiter({ ceilingDbtp, sampleRateHz: RATE_HZ })
  const all = new Float32Array(samples.length + limiter.latencyFrames)
  all.set(samples)
  const other = all.slice()
  for (let at = 0; at < all.length; at += block)
    limiter.process(all.subarray(at, at + block), other.subarray(at, at + block))
  expect(areSame(other, all)).toBe(true)
  return { out: all.slice(limiter.latencyFrames), limiter }
}

function peakDb(samples: Float32Array): number {
  const peak = new TruePeak(false)
  peak.push(samples)
  peak.push(new Float32Array(16))
  return 20 * Math.log10(peak.peak)
}

describe('the limiter', () => {
  it('leaves what is under the ceiling as it is, only later', () => {
    const samples = new Float32Array(5000).map((_, n) => 0.8 * Math.sin(n / 7))
    const { out, limiter } = limited(samples, -1, 512)
    expect(areSame(out, samples)).toBe(true)
    expect(limiter.mostReducedDb + 0).toBe(0)
  })

  it('sees the peak that lies between two samples', () => {
    // A quarter of the rate, 45 degrees off: every sample is 0.707, the wave between them 1.
    const samples = new Float32Array(9600).map((_, n) => 1.2 * Math.sin((Math.PI / 2) * n + Math.PI / 4))
    expect(Math.max(...samples)).toBeLessThan(0.9)
    const { out, limiter } = limited(samples, -1, 480)
    expect(peakDb(out)).toBeLessThanOrEqual(-1)
    expect(limiter.mostReducedDb).toBeLessThan(-2)
  })

  it('keeps anything under its ceiling, whatever the blocks', { tags: 'long' }, () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 2 ** 31 - 1 }),
        fc.integer({ min: 1, max: 3000 }),
        fc.double({ min: -9, max: -0.1, noNaN: true }),
        (seed, block, ceilingDbtp) => {
          let state = seed
          const next = (): number => {
            state = (Math.imul(state, 1664525) + 1013904223) | 0
            return state / 2 ** 31
          }
          // Bursts of noise, single clicks and silence.
          const samples = new Float32Array(8000).map((_, n) =>
            n % 1777 < 300 ? 3 * next() : n % 997 === 0 ? 5 * next() : 0.05 * next(),
          )
          const { out } = limited(samples, ceilingDbtp, block)
          expect(peakDb(out)).toBeLessThanOrEqual(ceilingDbtp)
          expect(areSame(out, limited(samples, ceilingDbtp, 8000).out)).toBe(true)
        },
      ),
      { numRuns: 12 },
    )
  })

  it('goes down before a click and comes up again after it', () => {
    const samples = new Float32Array(RATE_HZ).fill(0.1)
    samples[20_000] = 4
    const { out } = limited(samples, -1, 777)
    const gain = (n: number): number => (out[n] as number) / 0.1
    expect(gain(19_800)).toBeCloseTo(1, 5)
    expect(gain(19_999)).toBeLessThan(0.3)
    expect(gain(20_001 + 0.08 * RATE_HZ)).toBeGreaterThan(0.6)
    expect(gain(47_000)).toBeCloseTo(1, 2)
  })
})

describe('a delivered mix', () => {
  const SHA = 'a'.repeat(64)
  const tone = new Float32Array(5 * RATE_HZ).map((_, n) => 0.05 * Math.sin((2 * Math.PI * 997 * n) / RATE_HZ))
  const click = tone.slice()
  for (const at of [30_000, 90_000, 150_000]) click[at] = 0.9
  const scoreOf = (delivery: Score['delivery']): Score => ({
    ...EMPTY_SCORE,
    layers: [newLayer('one', 'One', 'effects')],
    placements: [
      newPlacement('p', { layerId: 'one', audio: { kind: 'copy', sha256: SHA, soundId: null }, startS: 1, toS: 5 }),
    ],
    delivery,
  })
  function delivered(delivery: Score['delivery'], samples = tone, leastFrames = 0) {
    const source = memorySource([samples, samples], RATE_HZ)
    const pieces: Float32Array[] = []
    const seen: number[] = []
    let at = 0
    const score = scoreOf(delivery)
    const result = deliverMix(
      new Mixer({ score, sources: new Map([[SHA, source]]), speech: [], sampleRateHz: RATE_HZ }),
      delivery,
      {
        leastFrames,
        onBlock: ({ fromFrame, left }) => {
          expect(fromFrame).toBe(at)
          at += left.length
          pieces.push(left.slice())
        },
        onProgress: (fraction) => seen.push(fraction),
      },
    )
    const out = new Float32Array(at)
    pieces.reduce((to, piece) => {
      out.set(piece, to)
      return to + piece.length
    }, 0)
    return { result, out, seen }
  }

  it('is as long as its last sound, or as the video, and stands where it was mixed', { tags: 'long' }, () => {
    const { result, out } = delivered({ loudnessLufs: null, ceilingDbtp: -1 })
    expect(result.lengthFrames).toBe(6 * RATE_HZ)
    expect(out).toHaveLength(6 * RATE_HZ)
    expect(out.subarray(0, RATE_HZ).every((value) => value === 0)).toBe(true)
    expect(areSame(out.subarray(RATE_HZ), tone)).toBe(true)
    expect(delivered({ loudnessLufs: null, ceilingDbtp: -1 }, tone, 7 * RATE_HZ + 5).out).toHaveLength(7 * RATE_HZ + 5)
  })

  it.each([-14, -23])('is brought to %f LUFS, measured again', (loudnessLufs) => {
    const { result, out, seen } = delivered({ loudnessLufs, ceilingDbtp: -1 })
    expect(result.integratedLufs).toBeCloseTo(loudnessLufs, 1)
    expect(clipLoudness([out, out], RATE_HZ).integratedLufs).toBeCloseTo(loudnessLufs, 1)
    expect(seen).toEqual([...seen].sort((a, b) => a - b))
    expect(seen.at(-1)).toBe(1)
  })

  it('is never over its ceiling, and says how much that took', () => {
    const { result, out } = delivered({ loudnessLufs: -14, ceilingDbtp: -2 }, click)
    expect(peakDb(out)).toBeLessThanOrEqual(-2)
    expect(result.truePeakDbtp).toBeLessThanOrEqual(-2)
    expect(result.mostLimitedDb).toBeLessThan(-5)
  })

  it('of nothing is silence of the length of the video', () => {
    const score: Score = { ...EMPTY_SCORE, delivery: { loudnessLufs: -14, ceilingDbtp: -1 } }
    const result = deliverMix(
      new Mixer({ score, sources: new Map(), speech: [], sampleRateHz: RATE_HZ }),
      score.delivery,
      { leastFrames: 1000, onBlock: ({ left }) => expect(left.every((value) => value === 0)).toBe(true) },
    )
    expect(result).toMatchObject({ lengthFrames: 1000, integratedLufs: null, truePeakDbtp: null, deliveryGainDb: 0 })
  })

  it('can be stopped', () => {
    const source = memorySource([tone], RATE_HZ)
    const input = {
      score: scoreOf({ loudnessLufs: -14, ceilingDbtp: -1 }),
      sources: new Map([[SHA, source]]),
      speech: [],
      sampleRateHz: RATE_HZ,
    }
    const stop = new Error('stopped')
    let blocks = 0
    expect(() =>
      deliverMix(new Mixer(input), input.score.delivery, {
        onBlock: () => blocks++,
        onProgress: (fraction) => {
          if (fraction > 0.7) throw stop
        },
      }),
    ).toThrow(stop)
    expect(blocks).toBeLessThan(60)
  })
})
