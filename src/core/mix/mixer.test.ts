import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { areSame } from '../../../test/signals'
import {
  type DuckRule,
  EMPTY_SCORE,
  type FadeCurve,
  inParts,
  inStems,
  lineValue,
  newLayer,
  newPlacement,
  type Placement,
  placementLengthS,
  type Score,
  scoreWithEdit,
  withSafeEnds,
} from '../score'
import { biquad } from './biquad'
import { dipsUnder, duckedDb, withDip } from './duck'
import { Mixer, type MixInput } from './mixer'
import { memorySource, type PcmSource } from './pcm'
import { roomResponse } from './room'
import { runsOf } from './runs'
import { windowedSinc, ZERO_CROSSINGS } from './sinc'

const RATE_HZ = 48_000
const SHA = 'a'.repeat(64)

function sine(frequencyHz: number, lengthS: number, sampleRateHz = RATE_HZ): Float32Array {
  return new Float32Array(Math.round(lengthS * sampleRateHz)).map((_, n) =>
    Math.sin((2 * Math.PI * frequencyHz * n) / sampleRateHz),
  )
}

/** Noise that is the same each time. */
function noise(frames: number, seed: number): Float32Array {
  let state = seed
  return new Float32Array(frames).map(() => {
    state = (Math.imul(state, 1664525) + 1013904223) | 0
    return state / 2 ** 32
  })
}

function placed(values: Partial<Placement> = {}, id = 'p'): Placement {
  return newPlacement(
    id,
    { layerId: 'one', audio: { kind: 'copy', sha256: SHA, soundId: null }, startS: 0, toS: 1 },
    values,
  )
}

function scoreOf(placements: readonly Placement[], values: Partial<Score> = {}): Score {
  return { ...EMPTY_SCORE, layers: [newLayer('one', 'One', 'effects')], placements, ...values }
}

function inputOf(score: Score, source: PcmSource, more: Partial<MixInput> = {}): MixInput {
  return { score, sources: new Map([[SHA, source]]), speech: [], sampleRateHz: RATE_HZ, ...more }
}

function mixed(input: MixInput, frames: number, block = 777, from = 0): [Float32Array, Float32Array] {
  const mixer = new Mixer(input)
  const [left, right] = [new Float32Array(frames), new Float32Array(frames)]
  for (let at = 0; at < frames; at += block) {
    const end = Math.min(frames, at + block)
    mixer.render(from + at, left.subarray(at, end), right.subarray(at, end))
  }
  return [left, right]
}

function one(values: Partial<Placement>, samples: Float32Array, frames: number): [Float32Array, Float32Array] {
  return mixed(inputOf(scoreOf([placed(values)]), memorySource([samples, samples], RATE_HZ)), frames)
}

/** Largest difference from what is expected at each frame. */
function offBy(samples: Float32Array, expected: (n: number) => number): number {
  return samples.reduce((most, value, n) => Math.max(most, Math.abs(value - expected(n))), 0)
}

describe('closed forms, to 1e-6', () => {
  const tone = sine(997, 1)
  const at = (n: number): number => (n >= 0 && n < RATE_HZ ? (tone[n] as number) : 0)

  it('one sine stands where it was put, to the sample, and nowhere else', () => {
    const [left, right] = one({ startS: 0.5 }, tone, 2 * RATE_HZ)
    expect(offBy(left, (n) => at(n - 24_000))).toBeLessThan(1e-6)
    expect(offBy(right, (n) => at(n - 24_000))).toBeLessThan(1e-6)
  })

  it.each<[FadeCurve, (x: number) => number]>([
    ['straight', (x) => x],
    ['equal-power', (x) => Math.sin((x * Math.PI) / 2)],
    ['s', (x) => (1 - Math.cos(x * Math.PI)) / 2],
  ])('one fade in and out: %s', (curve, shape) => {
    const fade = { lengthS: 0.25, curve, isAutomatic: false }
    const [left] = one({ fadeIn: fade, fadeOut: fade }, tone, RATE_HZ)
    const gain = (n: number): number => shape(Math.min(1, n / 12_000)) * shape(Math.min(1, (RATE_HZ - n) / 12_000))
    expect(offBy(left, (n) => gain(n) * at(n))).toBeLessThan(1e-6)
  })

  it.each([
    [-1, 1, 0],
    [0, Math.SQRT1_2, Math.SQRT1_2],
    [1, 0, 1],
  ])('a pan of %f: one channel is 3 dB down on each side in the middle', (pan, toLeft, toRight) => {
    const [left, right] = mixed(inputOf(scoreOf([placed({ pan })]), memorySource([tone], RATE_HZ)), RATE_HZ)
    expect(offBy(left, (n) => toLeft * at(n))).toBeLessThan(1e-6)
    expect(offBy(right, (n) => toRight * at(n))).toBeLessThan(1e-6)
  })

  it('two channels keep their level in the middle', () => {
    expect(offBy(one({ pan: 0 }, tone, RATE_HZ)[1], at)).toBeLessThan(1e-6)
  })

  it('one loop whose length is whole periods goes on as the sine does', () => {
    // 100 periods of 480 frames' worth: 0.1 s holds 100 periods of 1 kHz.
    const kilohertz = sine(1000, 1)
    const assembly = [{ fromS: 0.2, toS: 0.3, times: 8, seamS: 0 }]
    const [left] = one({ assembly }, kilohertz, RATE_HZ)
    const heard = Math.round(0.8 * RATE_HZ)
    expect(offBy(left, (n) => (n < heard ? Math.sin((2 * Math.PI * 1000 * n) / RATE_HZ) : 0))).toBeLessThan(2e-6)
  })

  it('a seam has equal power: two sounds that have nothing in common keep their level', () => {
    const assembly = [
      { fromS: 0, toS: 2, times: 1, seamS: 0 },
      { fromS: 2.5, toS: 4.5, times: 1, seamS: 0.5 },
    ]
    const source = noise(5 * RATE_HZ, 5)
    const [left] = one({ toS: 5, assembly }, source, 4 * RATE_HZ)
    const power = (fromS: number, toS: number): number => {
      const part = left.subarray(fromS * RATE_HZ, toS * RATE_HZ)
      return part.reduce((sum, value) => sum + value * value, 0) / part.length
    }
    expect(10 * Math.log10(power(1.5, 2) / power(0.5, 1.5))).toBeCloseTo(0, 0)
    expect(left.subarray(3.5 * RATE_HZ).every((value) => value === 0)).toBe(true)
  })

  it('a sound turned round ends with its first sample', () => {
    const ramp = new Float32Array(RATE_HZ).map((_, n) => n / RATE_HZ)
    const [left] = one({ isReversed: true }, ramp, RATE_HZ)
    expect(offBy(left, (n) => (RATE_HZ - 1 - n) / RATE_HZ)).toBeLessThan(1e-6)
  })

  it('break points are ramped in dB from sample to sample', () => {
    const gainPoints = [
      { atS: 0.25, value: 0 },
      { atS: 0.75, value: -40 },
    ]
    const [left] = one({ gainPoints, gainDb: -6 }, tone, RATE_HZ)
    const db = (n: number): number => -6 - 40 * Math.min(1, Math.max(0, (n / RATE_HZ - 0.25) / 0.5))
    expect(offBy(left, (n) => 10 ** (db(n) / 20) * at(n))).toBeLessThan(1e-6)
  })

  it('six channels are folded to two as the norm says', () => {
    const level = (value: number) => new Float32Array(RATE_HZ).fill(value)
    const source = memorySource([0.1, 0.2, 0.3, 0.4, 0.05, 0.06].map(level), RATE_HZ)
    const [left, right] = mixed(inputOf(scoreOf([placed()]), source), RATE_HZ)
    expect(left[500]).toBeCloseTo(0.1 + Math.SQRT1_2 * (0.3 + 0.05), 6)
    expect(right[500]).toBeCloseTo(0.2 + Math.SQRT1_2 * (0.3 + 0.06), 6)
  })
})

describe('other speeds and rates', () => {
  it.each([
    [0.25, 48_000],
    [0.7, 44_100],
    [1, 44_100],
    [1, 8_000],
    [1.31, 96_000],
    [4, 192_000],
  ])('a sine at %f times its speed from %i Hz is a sine of that pitch', (rate, fromHz) => {
    const frequencyHz = 700
    const samples = sine(frequencyHz, 2, fromHz)
    const input = inputOf(scoreOf([placed({ toS: 2, rate })]), memorySource([samples, samples], fromHz))
    const frames = Math.floor((2 / rate) * RATE_HZ)
    const [left] = mixed(input, frames)
    const edge = Math.ceil(0.02 * RATE_HZ)
    const error = offBy(left.subarray(edge, frames - edge), (n) =>
      Math.sin((2 * Math.PI * frequencyHz * rate * (n + edge)) / RATE_HZ),
    )
    // -90 dB of full scale.
    expect(20 * Math.log10(error)).toBeLessThan(-90)
  })

  it('what lies over the new Nyquist frequency does not fold down', () => {
    const input = inputOf(scoreOf([placed({ rate: 2 })]), memorySource([sine(15_000, 1), sine(15_000, 1)], RATE_HZ))
    const [left] = mixed(input, RATE_HZ / 2)
    const middle = left.subarray(2000, 20_000)
    expect(20 * Math.log10(offBy(middle, () => 0))).toBeLessThan(-85)
  })
})

/** A plain mixer: every sample by itself from the definitions, in double precision, whole placements at a time. */
function referenceMix(
  { score, sources, speech, sampleRateHz }: MixInput,
  frames: number,
): [Float64Array, Float64Array] {
  const out: [Float64Array, Float64Array] = [new Float64Array(frames), new Float64Array(frames)]
  for (const layer of score.layers) {
    const dips = layer.duck ? dipsUnder(layer.duck, speech) : []
    for (const placement of score.placements.filter(({ layerId }) => layerId === layer.id)) {
      const source = sources.get(SHA) as PcmSource
      const start = Math.round(placement.startS * sampleRateHz)
      const sides = referencePlacement(placement, source, sampleRateHz)
      for (const [side, samples] of sides.entries())
        for (const [n, value] of samples.entries()) {
          const to = out[side] as Float64Array
          const frame = start + n
          if (frame < frames)
            to[frame] =
              (to[frame] as number) + value * 10 ** ((layer.levelDb + duckedDb(dips, frame / sampleRateHz)) / 20)
        }
    }
  }
  return out
}

function referencePlacement(
  placement: Placement,
  source: PcmSource,
  sampleRateHz: number,
): [Float64Array, Float64Array] {
  const { rate, gainDb, pan, gainPoints, panPoints, treatments, fadeIn, fadeOut } = placement
  const lengthS = placementLengthS(placement)
  const heard = Math.ceil(lengthS * sampleRateHz - 1e-6)
  const room = treatments.find(({ kind }) => kind === 'large-room')
  const total = heard + (room ? Math.ceil(1.818 * sampleRateHz) : 0)
  const channels = Array.from({ length: source.channelCount }, (_, channel) => {
    const all = new Float32Array(source.lengthFrames)
    source.read(channel, 0, all)
    return all
  })
  const step = (rate * source.sampleRateHz) / sampleRateHz
  const scale = 0.95 * Math.min(1, 1 / step)
  const sampleAt = (samples: Float32Array, position: number): number => {
    const whole = Math.round(position)
    if (step === 1 && Math.abs(position - whole) < 1e-6) return samples[whole] ?? 0
    const half = Math.ceil(ZERO_CROSSINGS / scale)
    let sum = 0
    for (let k = Math.floor(position) - half; k <= position + half + 1; k++)
      sum += (samples[k] ?? 0) * windowedSinc((position - k) * scale)
    return sum * scale
  }
  const sides: [Float64Array, Float64Array] = [new Float64Array(total), new Float64Array(total)]
  const fade = (one: typeof fadeIn, insideS: number): number => {
    const x = one ? Math.min(1, Math.max(0, insideS / one.lengthS)) : 1
    return one?.curve === 'straight'
      ? x
      : one?.curve === 's'
        ? (1 - Math.cos(Math.PI * x)) / 2
        : Math.sin((x * Math.PI) / 2)
  }
  for (let n = 0; n < heard; n++) {
    const atS = n / sampleRateHz
    const gain = (fadeIn ? fade(fadeIn, atS) : 1) * (fadeOut ? fade(fadeOut, lengthS - atS) : 1)
    for (const run of runsOf(placement)) {
      const inRunS = atS * rate - run.atS
      const runS = run.toS - run.fromS
      if (inRunS < -1e-9 || inRunS >= runS - 1e-9) continue
      const seam =
        (inRunS < run.seamInS ? Math.sin((Math.PI / 2) * (inRunS / run.seamInS)) : 1) *
        (runS - inRunS < run.seamOutS ? Math.sin((Math.PI / 2) * ((runS - inRunS) / run.seamOutS)) : 1)
      for (const side of [0, 1] as const) {
        const samples = channels[Math.min(side, channels.length - 1)] as Float32Array
        const value = sampleAt(samples, (run.fromS + inRunS) * source.sampleRateHz)
        sides[side][n] = (sides[side][n] as number) + gain * seam * value
      }
    }
  }
  const treated = sides.map((samples, side) => referenceTreated(samples, placement, side as 0 | 1, sampleRateHz))
  return treated.map((samples, side) =>
    samples.map((value, n) => {
      const atS = n / sampleRateHz
      const angle = ((Math.min(1, Math.max(-1, pan + lineValue(panPoints, atS))) + 1) * Math.PI) / 4
      const law = side === 0 ? Math.cos(angle) : Math.sin(angle)
      const toSide = channels.length === 1 ? law : Math.min(1, Math.SQRT2 * law)
      return value * toSide * 10 ** ((gainDb + lineValue(gainPoints, atS)) / 20)
    }),
  ) as [Float64Array, Float64Array]
}

/** A wall and a room, as their definitions say: direct form and direct convolution. */
function referenceTreated(
  samples: Float64Array,
  { treatments }: Placement,
  side: 0 | 1,
  sampleRateHz: number,
): Float64Array {
  let now = samples
  for (const { kind, amountFraction: amount } of treatments) {
    if (kind === 'wall') {
      const frequencyHz = 20_000 * (250 / 20_000) ** amount
      for (const q of [0.5412, 1.3066]) {
        const { b0, b1, b2, a1, a2 } = biquad('low-pass', { frequencyHz, q, sampleRateHz })
        const out = new Float64Array(now.length)
        for (let n = 0; n < now.length; n++)
          out[n] =
            b0 * (now[n] as number) +
            b1 * (now[n - 1] ?? 0) +
            b2 * (now[n - 2] ?? 0) -
            a1 * (out[n - 1] ?? 0) -
            a2 * (out[n - 2] ?? 0)
        now = out
      }
      now = now.map((value) => value * 10 ** ((-4 * amount) / 20))
    } else {
      const response = roomResponse({ decayS: 1.8, delayS: 0.018, brightHz: 6000 }, side, sampleRateHz)
      const out = new Float64Array(now.length)
      const first = Math.round(0.018 * sampleRateHz)
      for (let n = 0; n < now.length; n++) {
        let sum = 0
        for (let k = first; k < response.length && k <= n; k++) sum += (response[k] as number) * (now[n - k] as number)
        out[n] = (1 - 0.35 * amount) * (now[n] as number) + 0.7 * amount * sum
      }
      now = out
    }
  }
  return now
}

describe('against a plain reference', () => {
  // 8 kHz, so that the direct convolution of the reference ends in this life.
  const HZ = 8000
  const stereo = memorySource([noise(9000, 1), noise(9000, 2)], 11_025)
  const mono = memorySource([noise(8000, 3)], HZ)
  const line = [
    { atS: 0.1, value: -3 },
    { atS: 0.4, value: 2 },
  ]
  const cases: [string, PcmSource, Partial<Placement>][] = [
    ['at its own rate', mono, { startS: 0.1003, fromS: 0.05, toS: 0.9 }],
    ['at another rate and speed', stereo, { startS: 0.0371, toS: 0.7, rate: 1.37 }],
    [
      'slow, panned, with lines',
      stereo,
      {
        rate: 0.6,
        toS: 0.4,
        pan: -0.3,
        panPoints: [
          { atS: 0.1, value: 0 },
          { atS: 0.5, value: 0.9 },
        ],
        gainPoints: line,
      },
    ],
    [
      'put together from parts, faded',
      stereo,
      {
        assembly: [
          { fromS: 0, toS: 0.2, times: 1, seamS: 0 },
          { fromS: 0.2, toS: 0.4, times: 4, seamS: 0.05 },
          { fromS: 0.5, toS: 0.7, times: 1, seamS: 0.02 },
        ],
        fadeIn: { lengthS: 0.05, curve: 's', isAutomatic: false },
        fadeOut: { lengthS: 0.2, curve: 'straight', isAutomatic: false },
      },
    ],
    ['behind a wall', mono, { treatments: [{ kind: 'wall', amountFraction: 0.7 }], toS: 0.5 }],
    [
      'in a large room',
      mono,
      {
        treatments: [
          { kind: 'wall', amountFraction: 0.3 },
          { kind: 'large-room', amountFraction: 0.8 },
        ],
        toS: 0.3,
      },
    ],
  ]
  it.each(cases)('a placement %s differs by less than -90 dBFS', { tags: 'long' }, (_, source, values) => {
    const duck = { depthDb: 12, attackS: 0.1, holdS: 0.05, releaseS: 0.2, adjusted: [] }
    const layers = [newLayer('one', 'One', 'effects', { levelDb: -2, duck }), newLayer('two', 'Two', 'music')]
    const score = scoreOf([placed(values), placed({ ...values, layerId: 'two', gainDb: -9, startS: 0.2 }, 'q')], {
      layers,
    })
    const input = inputOf(score, source, { sampleRateHz: HZ, speech: [{ startS: 0.3, endS: 0.5 }] })
    const frames = new Mixer(input).lengthFrames
    const [left, right] = mixed(input, frames, 333)
    const [wantedLeft, wantedRight] = referenceMix(input, frames)
    const error = Math.max(
      offBy(left, (n) => wantedLeft[n] as number),
      offBy(right, (n) => wantedRight[n] as number),
    )
    expect(left.some((value) => Math.abs(value) > 0.01)).toBe(true)
    expect(20 * Math.log10(error)).toBeLessThan(-90)
  })
})

describe('blocks', () => {
  const source = memorySource([noise(60_000, 7), noise(60_000, 8)], 44_100)
  const values: Partial<Placement> = {
    startS: 0.011,
    toS: 1.3,
    rate: 0.93,
    treatments: [
      { kind: 'telephone', amountFraction: 0.6 },
      { kind: 'far-off', amountFraction: 0.5 },
    ],
    treatmentChange: { to: [{ kind: 'large-room', amountFraction: 1 }], fromS: 0.2, toS: 0.9 },
  }
  const score = scoreOf([placed(values), placed({ startS: 0.3, isReversed: true }, 'q')])

  it('of any size give the same samples, bit for bit', { tags: 'long' }, () => {
    const input = inputOf(score, source)
    const frames = 40_000
    const [whole] = mixed(input, frames, frames)
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 5000 }), (block) => {
        expect(areSame(mixed(input, frames, block)[0], whole)).toBe(true)
      }),
      { numRuns: 4, examples: [[128], [7], [1024]] },
    )
  })

  it('from the middle on sound as if all had been played', () => {
    const input = inputOf(score, source)
    const [whole] = mixed(input, 60_000)
    for (const from of [17_003, 41_000]) {
      const [part] = mixed(input, 8000, 1000, from)
      expect(20 * Math.log10(offBy(part, (n) => whole[from + n] as number))).toBeLessThan(-90)
    }
  })

  it('of single layers add up to the mix', () => {
    const layers = [newLayer('one', 'One', 'effects', { levelDb: -3 }), newLayer('two', 'Two', 'free')]
    const input = inputOf(scoreOf([placed(values), placed({ layerId: 'two' }, 'q')], { layers }), source)
    const [whole] = mixed(input, 20_000, 20_000)
    const sum = new Float32Array(20_000)
    for (const id of ['one', 'two', 'gone']) {
      const [left, right] = [new Float32Array(20_000), new Float32Array(20_000)]
      new Mixer(input).renderLayer(id, 0, left, right)
      left.forEach((value, n) => {
        sum[n] = (sum[n] as number) + value
      })
    }
    expect(offBy(sum, (n) => whole[n] as number)).toBeLessThan(1e-6)
  })
})

describe('a bed', () => {
  const [pad, pulse] = [noise(3 * RATE_HZ, 3), noise(3 * RATE_HZ, 8)]
  const sum = pad.map((value, n) => value + (pulse[n] as number))
  const facts = { durationS: 3, hitS: null, isLoudAt: () => true }
  const keyed = (id: number, samples: Float32Array) => [`sound-${id}`, memorySource([samples], RATE_HZ)] as const
  const bedSource = (id: string, soundId: number, durationS = 3) => ({
    id,
    audio: { kind: 'preview', soundId } as const,
    source: { ...facts, durationS },
  })
  const whole = placed({ audio: { kind: 'preview', soundId: 1 }, toS: 3, gainDb: -4, pan: 0.3, startS: 0.25 })
  const frames = 4 * RATE_HZ
  const heard = (score: Score, sources: MixInput['sources']) =>
    mixed({ score, sources, speech: [], sampleRateHz: RATE_HZ }, frames)
  const asTheWhole = (placement = whole) => heard(scoreOf([withSafeEnds(placement, facts)]), new Map([keyed(1, sum)]))

  it.each([
    ['as it is', {}],
    ['slower, trimmed and turned round', { rate: 0.8, fromS: 0.5, toS: 2.5, isReversed: true }],
    [
      'with its level drawn and a room',
      { gainPoints: [{ atS: 1, value: -9 }], treatments: [{ kind: 'large-room', amountFraction: 0.5 }] },
    ],
    ['repeated', { assembly: [{ fromS: 0, toS: 1, times: 3, seamS: 0.2 }] }],
  ] as const)('in stems sounds as the whole did, %s', (_, values) => {
    const placement = { ...whole, ...values }
    const stems = [bedSource('a', 2), bedSource('b', 3)]
    const { document } = scoreWithEdit(scoreOf([placement]), inStems(placement, { bedId: 'bed', soundId: 1, stems }))
    const after = heard(document, new Map([keyed(2, pad), keyed(3, pulse)]))
    for (const [side, samples] of asTheWhole(placement).entries()) expectAlike(after[side] as Float32Array, samples)
  })

  it('in its parts has no seam', () => {
    const cut = (fromS: number, toS: number) => sum.slice(fromS * RATE_HZ, toS * RATE_HZ)
    const parts = {
      opening: bedSource('a', 2, 1),
      loop: bedSource('b', 3, 1),
      ending: bedSource('c', 4, 1),
    }
    const { document } = scoreWithEdit(
      scoreOf([whole]),
      inParts([whole], { bedId: 'bed', soundId: 1, parts, wantedS: 3 }),
    )
    const after = heard(document, new Map([keyed(2, cut(0, 1)), keyed(3, cut(1, 2)), keyed(4, cut(2, 3))]))
    for (const [side, samples] of asTheWhole().entries()) expectAlike(after[side] as Float32Array, samples)
  })

  it('goes on without a stem whose audio is gone, and it is said', () => {
    const stems = [bedSource('a', 2), bedSource('b', 3)]
    const { document } = scoreWithEdit(scoreOf([whole]), inStems(whole, { bedId: 'bed', soundId: 1, stems }))
    const mixer = new Mixer({ score: document, sources: new Map([keyed(2, pad)]), speech: [], sampleRateHz: RATE_HZ })
    expect(mixer.silent.map(({ id }) => id)).toEqual(['b'])
    expect(mixer.lengthFrames).toBeGreaterThan(3 * RATE_HZ)
  })

  function expectAlike(one: Float32Array, other: Float32Array): void {
    let most = 0
    let loudest = 0
    one.forEach((value, n) => {
      most = Math.max(most, Math.abs(value - (other[n] as number)))
      loudest = Math.max(loudest, Math.abs(value))
    })
    expect(loudest).toBeGreaterThan(0.1)
    expect(most).toBeLessThan(1e-5)
  }
})

describe('what is heard', () => {
  const source = memorySource([new Float32Array(RATE_HZ).fill(0.5)], RATE_HZ)
  const layers = (more: object[]) => more.map((values, at) => newLayer(['one', 'two'][at] ?? '', 'L', 'free', values))
  const both = [placed(), placed({ layerId: 'two', gainDb: -20 }, 'q')]
  const level = (score: Score): number => mixed(inputOf(score, source), 2000)[0][1500] as number

  it.each<[string, object[], number]>([
    ['all', [{}, {}], 1.1],
    ['but a muted layer', [{ isMuted: true }, {}], 0.1],
    ['but those beside a solo layer', [{}, { isSolo: true }], 0.1],
    ['nothing of what is solo and muted', [{ isSolo: true, isMuted: true }, {}], 0],
  ])('%s', (_, more, expected) => {
    expect(level(scoreOf(both, { layers: layers(more) }))).toBeCloseTo(expected * 0.5 * Math.SQRT1_2, 5)
  })

  it('no muted placement, and none without audio, which is said', () => {
    const gone = placed({ audio: { kind: 'preview', soundId: 4 } }, 'gone')
    const score = scoreOf([placed({ isMuted: true }), gone])
    const mixer = new Mixer(inputOf(score, source))
    expect(mixer.silent).toEqual([gone])
    expect(mixer.lengthFrames).toBe(0)
    expect(level(score)).toBe(0)
  })

  it('a placement that wants more than its source has is silent there', () => {
    const [left] = mixed(inputOf(scoreOf([placed({ fromS: 0.9, toS: 3 })]), source), RATE_HZ)
    expect(left[4000]).toBeGreaterThan(0.3)
    expect(left.subarray(4801).every((value) => value === 0)).toBe(true)
  })
})

describe('a layer under speech', () => {
  const rule = { depthDb: 10, attackS: 0.2, holdS: 0.1, releaseS: 0.4, adjusted: [] }

  it('is down when the speech begins, and up again after it', () => {
    const dips = dipsUnder(rule, [{ startS: 5, endS: 7 }])
    const db = [4.8, 4.9, 5, 6, 7.1, 7.3, 7.5].map((atS) => duckedDb(dips, atS))
    expect(db.map((value) => Math.round(value * 10) / 10 + 0)).toEqual([0, -5, -10, -10, -10, -5, 0])
  })

  it('stays down over a pause in which it could only begin to rise', () => {
    expect(
      dipsUnder(rule, [
        { startS: 5, endS: 6 },
        { startS: 6.25, endS: 7 },
      ]),
    ).toHaveLength(1)
    const dips = dipsUnder(rule, [
      { startS: 5, endS: 6 },
      { startS: 6.5, endS: 7 },
    ])
    expect(dips).toHaveLength(2)
    // The ways up and down meet: the lower one counts.
    expect(duckedDb(dips, 6.35)).toBeLessThan(-3)
  })

  it('takes one dip by itself, once, and as the others again', () => {
    const speech = [
      { startS: 5, endS: 6 },
      { startS: 20, endS: 21 },
    ]
    const depths = (one: DuckRule) => dipsUnder(one, speech).map(({ depthDb }) => depthDb)
    const once = withDip(rule, 20, 4)
    expect(depths(once)).toEqual([10, 4])
    const again = withDip(withDip(once, 20.1, 6), 5, 2)
    expect(again.adjusted).toHaveLength(2)
    expect(depths(again)).toEqual([2, 6])
    expect(depths(withDip(again, 20, null))).toEqual([2, 10])
  })

  it('goes as deep as was set by hand for that speech, also where it is found a little elsewhere', () => {
    const adjusted = [{ atS: 5.1, depthDb: 3 }]
    const dips = dipsUnder({ ...rule, adjusted }, [
      { startS: 5, endS: 6 },
      { startS: 20, endS: 21 },
    ])
    expect(dips.map(({ depthDb }) => depthDb)).toEqual([3, 10])
  })
})

describe('a mixer that goes on from one before', () => {
  const source = memorySource([noise(2 * RATE_HZ, 3), noise(2 * RATE_HZ, 4)], RATE_HZ)
  const room = placed({ toS: 2, treatments: [{ kind: 'large-room', amountFraction: 0.8 }] }, 'room')
  const plain = placed({ toS: 2, startS: 0.3 }, 'plain')
  const HALF = RATE_HZ

  /** The second half, by a mixer that goes on from one that made the first half of another score. */
  function goneOn(from: Score, to: Score): [Float32Array, Float32Array] {
    const before = new Mixer(inputOf(from, source))
    before.render(0, new Float32Array(HALF), new Float32Array(HALF))
    const [left, right] = [new Float32Array(HALF), new Float32Array(HALF)]
    // Messages give the same values in other objects.
    new Mixer(inputOf(JSON.parse(JSON.stringify(to)) as Score, source, { before })).render(HALF, left, right)
    return [left, right]
  }
  const anew = (score: Score) => mixed(inputOf(score, source), HALF, 777, HALF)

  it('sounds as one that is made anew, whatever was changed beside', () => {
    const from = scoreOf([room, plain])
    for (const to of [
      from,
      scoreOf([room, { ...plain, gainDb: -20 }]),
      scoreOf([{ ...room, treatments: [{ kind: 'large-room', amountFraction: 0.2 }] }, plain]),
      scoreOf([{ ...room, startS: 0.05 }, plain]),
      scoreOf([plain]),
    ]) {
      const [left, right] = goneOn(from, to)
      const [wantedLeft, wantedRight] = anew(to)
      expect(offBy(left, (n) => wantedLeft[n] as number)).toBeLessThan(1e-6)
      expect(offBy(right, (n) => wantedRight[n] as number)).toBeLessThan(1e-6)
    }
  })

  it('takes nothing over whose audio is another now', () => {
    const other = memorySource([noise(2 * RATE_HZ, 8), noise(2 * RATE_HZ, 9)], RATE_HZ)
    const score = scoreOf([plain])
    const before = new Mixer(inputOf(score, source))
    before.render(0, new Float32Array(HALF), new Float32Array(HALF))
    const [left, right] = [new Float32Array(HALF), new Float32Array(HALF)]
    new Mixer(inputOf(score, other, { before })).render(HALF, left, right)
    const [wanted] = mixed(inputOf(score, other), HALF, 777, HALF)
    expect(offBy(left, (n) => wanted[n] as number)).toBeLessThan(1e-6)
  })
})
