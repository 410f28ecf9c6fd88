import { openStretch } from 'signalsmith-stretch'
import { beforeAll, describe, expect, test } from 'vitest'
import { areSame } from '../../../test/signals'
import { mixKey, newLayer, newPlacement, type Placement, type Score } from '../score'
import { Mixer } from './mixer'
import { atAnotherSpeed, memorySource, type PcmSource } from './pcm'
import { Stretcher, stretchedChannels } from './stretch'

const RATE_HZ = 48_000
const RATES = [0.25, 0.5, 0.8, 1.25, 2, 4]
let stretcher: Stretcher
beforeAll(async () => {
  stretcher = new Stretcher(await openStretch())
})

const sine = (hz: number, lengthS: number): Float32Array =>
  new Float32Array(lengthS * RATE_HZ).map((_, n) => 0.5 * Math.sin((2 * Math.PI * hz * n) / RATE_HZ))

/** Short knocks at whole seconds. */
function knocks(atS: readonly number[], lengthS: number): Float32Array {
  const samples = new Float32Array(lengthS * RATE_HZ)
  for (const s of atS) for (let n = 0; n < 200; n++) samples[s * RATE_HZ + n] = Math.exp(-n / 40) * Math.sin(n * 0.6)
  return samples
}

function crossingsHz(samples: Float32Array): number {
  const [from, to] = [Math.round(samples.length * 0.3), Math.round(samples.length * 0.7)]
  let count = 0
  for (let n = from; n < to; n++) if ((samples[n - 1] as number) < 0 && (samples[n] as number) >= 0) count++
  return (count * RATE_HZ) / (to - from)
}

/** Where the samples are loudest near a time, s. */
function loudestNear(samples: Float32Array, atS: number, withinS: number): number {
  let best = 0
  let at = -1
  const from = Math.max(0, Math.round((atS - withinS) * RATE_HZ))
  for (let n = from; n < Math.min(samples.length, (atS + withinS) * RATE_HZ); n++)
    if (Math.abs(samples[n] as number) > best) [best, at] = [Math.abs(samples[n] as number), n]
  return at / RATE_HZ
}

const stretched = (channels: readonly Float32Array[], rate: number) =>
  stretchedChannels(stretcher, memorySource(channels, RATE_HZ), rate)

describe('a stretched sound', () => {
  test.each(RATES)('at %s times the speed is so much shorter and keeps its pitch', (rate) => {
    const [left, right] = stretched([sine(440, 4), sine(330, 4)], rate)
    expect(left).toHaveLength(Math.round((4 * RATE_HZ) / rate))
    expect(crossingsHz(left as Float32Array)).toBeCloseTo(440, -1)
    expect(crossingsHz(right as Float32Array)).toBeCloseTo(330, -1)
  })

  test.each([
    // It begins with phases by chance: 6 to 11 ms off in a hundred runs.
    [0.25, 16],
    [0.5, 2],
    [0.8, 2],
    [1.25, 2],
    [2, 2],
    [4, 25],
  ])('at %s times the speed has its hits within %s ms of where they belong', (rate, withinMs) => {
    const [samples] = stretched([knocks([1, 2, 4], 5)], rate)
    for (const atS of [1, 2, 4]) {
      const offMs = 1000 * Math.abs(loudestNear(samples as Float32Array, atS / rate, 0.2 / rate) - atS / rate)
      expect(offMs).toBeLessThan(withinMs)
    }
  })

  test('leaves nothing of the one before in the next, nor changes what it is given', { tags: 'long' }, () => {
    const given = sine(440, 1)
    const before = given.slice()
    stretched([knocks([0], 1)], 0.5)
    const [first] = stretched([given], 1.5) as [Float32Array]
    stretched([sine(2000, 1), sine(90, 1)], 3)
    const [again] = stretched([given], 1.5) as [Float32Array]
    expect(areSame(again, first)).toBe(true)
    expect(areSame(given, before)).toBe(true)
  })

  test('of nothing is nothing, and of a hundredth of a second its length', () => {
    expect(stretched([new Float32Array(0)], 2)).toEqual([new Float32Array(0)])
    expect(stretched([sine(440, 1).subarray(0, 480)], 0.5)[0]).toHaveLength(960)
  })
})

describe('in the mix', () => {
  const audio = { kind: 'preview', soundId: 1 } as const
  function mixed(values: Partial<Placement>): Float32Array {
    const placement = newPlacement('p', { layerId: 'l', audio, startS: 1, toS: 4 }, values)
    const score: Score = {
      version: 1,
      layers: [newLayer('l', 'Effects', 'effects')],
      placements: [placement],
      delivery: { loudnessLufs: null, ceilingDbtp: -1 },
    }
    const asItIs = memorySource([sine(440, 4)], RATE_HZ)
    const sources = new Map<string, PcmSource>([['sound-1', asItIs]])
    const { rate } = placement
    sources.set(`sound-1@${rate}`, atAnotherSpeed(memorySource(stretched([sine(440, 4)], rate), RATE_HZ), rate))
    expect(sources.has(mixKey(placement))).toBe(true)
    const mixer = new Mixer({ score, sources, speech: [], sampleRateHz: RATE_HZ })
    const [left, right] = [new Float32Array(mixer.lengthFrames), new Float32Array(mixer.lengthFrames)]
    mixer.render(0, left, right)
    return left.subarray(RATE_HZ)
  }

  test('a placement keeps its pitch only where it is told to, and is as long either way', () => {
    const kept = mixed({ rate: 1.5, keepsPitch: true })
    const shifted = mixed({ rate: 1.5, keepsPitch: false })
    expect(kept).toHaveLength(shifted.length)
    expect(crossingsHz(kept)).toBeCloseTo(440, -1)
    expect(crossingsHz(shifted)).toBeCloseTo(660, -1)
  })

  test('a part of it, turned round, is the same part', () => {
    const part = mixed({ rate: 0.5, keepsPitch: true, fromS: 1, toS: 2, isReversed: true })
    expect(part).toHaveLength(2 * RATE_HZ)
    expect(crossingsHz(part)).toBeCloseTo(440, -1)
  })

  test('at its own speed it needs no stretching, and asks for none', () => {
    expect(mixKey(newPlacement('p', { layerId: 'l', audio, startS: 0, toS: 1 }, { keepsPitch: true }))).toBe('sound-1')
  })
})
