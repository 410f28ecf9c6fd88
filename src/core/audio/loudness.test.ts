import { describe, expect, it } from 'vitest'
import { noise, sine } from '../../../test/signals'
import { AudioInputError, clipLoudness, LoudnessMeter } from './loudness'

const RATE_HZ = 48000

/** A stereo 1 kHz sine in stretches of [level in dBFS, seconds], as EBU Tech 3341 defines its test signals. */
function stretches(parts: readonly (readonly [number, number])[], rateHz = RATE_HZ): [Float32Array, Float32Array] {
  const total = parts.reduce((sum, [, durationS]) => sum + durationS, 0)
  const out = new Float32Array(Math.round(total * rateHz))
  let at = 0
  for (const [levelDb, durationS] of parts) {
    const end = Math.min(out.length, at + Math.round(durationS * rateHz))
    for (let n = at; n < end; n++) out[n] = 10 ** (levelDb / 20) * Math.sin((2 * Math.PI * 1000 * n) / rateHz)
    at = end
  }
  return [out, out]
}

describe('integrated loudness', () => {
  it('reads -3.01 LUFS for a full-scale 997 Hz sine in one channel', () => {
    const tone = sine({ length: 5 * RATE_HZ, rateHz: RATE_HZ, frequencyHz: 997 })
    expect(clipLoudness([tone], RATE_HZ).integratedLufs).toBeCloseTo(-3.01, 1)
  })

  // EBU Tech 3341, table 1, cases 1 to 5; the standard allows 0.1 LU.
  it.each([
    ['case 1', [[-23, 20]], -23],
    ['case 2', [[-33, 20]], -33],
    [
      'case 3: quiet ends fall under the gate',
      [
        [-36, 10],
        [-23, 60],
        [-36, 10],
      ],
      -23,
    ],
    [
      'case 4: and silence too',
      [
        [-72, 10],
        [-36, 10],
        [-23, 60],
        [-36, 10],
        [-72, 10],
      ],
      -23,
    ],
    [
      'case 5: loud and quiet within the gate',
      [
        [-26, 20],
        [-20, 20.1],
        [-26, 20],
      ],
      -23,
    ],
  ] as const)('EBU %s', (_name, parts, expected) => {
    const { integratedLufs } = clipLoudness(stretches(parts), RATE_HZ)
    expect(Math.abs((integratedLufs as number) - expected)).toBeLessThanOrEqual(0.1)
  })

  it.each([16000, 32000, 44100, 96000])('reads the same at %i Hz', (rateHz) => {
    const { integratedLufs } = clipLoudness(stretches([[-23, 5]], rateHz), rateHz)
    expect(Math.abs((integratedLufs as number) + 23)).toBeLessThanOrEqual(0.1)
  })

  it('adds 3 LU when both channels carry what one did', () => {
    const tone = noise(4 * RATE_HZ, 3, 0.2)
    const one = clipLoudness([tone], RATE_HZ).integratedLufs as number
    const both = clipLoudness([tone, tone], RATE_HZ).integratedLufs as number
    expect(both - one).toBeCloseTo(3.01, 2)
  })

  it('has no answer for silence and for less than one block', () => {
    expect(clipLoudness([new Float32Array(RATE_HZ)], RATE_HZ).integratedLufs).toBeNull()
    expect(clipLoudness([noise(RATE_HZ * 0.39, 1)], RATE_HZ).integratedLufs).toBeNull()
    expect(clipLoudness([new Float32Array(0)], RATE_HZ)).toMatchObject({ integratedLufs: null, truePeakDbtp: null })
  })

  it('does not depend on how the track is cut into blocks', () => {
    const track = noise(3 * RATE_HZ, 9, 0.3)
    const whole = clipLoudness([track], RATE_HZ)
    const meter = new LoudnessMeter(1, RATE_HZ)
    for (let at = 0; at < track.length; at += 1777) meter.push([track.subarray(at, at + 1777)])
    expect(meter.result().integratedLufs).toBeCloseTo(whole.integratedLufs as number, 9)
    expect(meter.result().truePeakDbtp).toBeCloseTo(whole.truePeakDbtp as number, 9)
  })
})

describe('momentary loudness', () => {
  it('has a value every 100 ms from 0.4 s on and follows the level', () => {
    const { momentaryLufs } = clipLoudness(
      stretches([
        [-20, 2],
        [-40, 2],
      ]),
      RATE_HZ,
    )
    expect(momentaryLufs.length).toBe(37)
    expect(momentaryLufs[5]).toBeCloseTo(-20, 1)
    expect(momentaryLufs[36]).toBeCloseTo(-40, 1)
  })
})

/** The same parts over and over. */
function repeated(parts: readonly (readonly [number, number])[], times: number) {
  return stretches(Array.from({ length: times }, () => parts).flat())
}

const SILENT_DB = -200

describe('short-term loudness', () => {
  it('EBU Tech 3341 case 9: stays at -23 LUFS while the level changes within its window', () => {
    const parts = [
      [-20, 1.34],
      [-30, 1.66],
    ] as const
    const { shortTermLufs } = clipLoudness(repeated(parts, 5), RATE_HZ)
    expect(shortTermLufs.length).toBe(121)
    for (const value of shortTermLufs) expect(Math.abs(value + 23)).toBeLessThan(0.1)
  })

  it.each([0, 3, 7, 13, 19])('EBU Tech 3341 case 10: reaches -23 LUFS wherever the tone begins (file %i)', (file) => {
    const parts = [
      [SILENT_DB, 0.15 * file],
      [-23, 3],
      [SILENT_DB, 1],
    ] as const
    const { shortTermMaxLufs } = clipLoudness(stretches(parts), RATE_HZ)
    expect(Math.abs((shortTermMaxLufs ?? 0) + 23)).toBeLessThan(0.1)
  })

  it('has no value under 3 s', () => {
    const { shortTermLufs, shortTermMaxLufs } = clipLoudness(stretches([[-20, 2.9]]), RATE_HZ)
    expect([shortTermLufs.length, shortTermMaxLufs]).toEqual([0, null])
  })
})

describe('momentary loudness in windows of 400 ms', () => {
  it('EBU Tech 3341 case 12: stays at -23 LUFS', () => {
    const parts = [
      [-20, 0.18],
      [-30, 0.22],
    ] as const
    const { momentaryLufs } = clipLoudness(repeated(parts, 25), RATE_HZ)
    for (const value of momentaryLufs.subarray(7)) expect(Math.abs(value + 23)).toBeLessThan(0.1)
  })

  it.each([0, 1, 2, 9, 19])('EBU Tech 3341 case 13: reaches -23 LUFS wherever the tone begins (file %i)', (file) => {
    const parts = [
      [SILENT_DB, 0.02 * file],
      [-23, 0.4],
      [SILENT_DB, 1],
    ] as const
    const { momentaryMaxLufs } = clipLoudness(stretches(parts), RATE_HZ)
    expect(Math.abs((momentaryMaxLufs ?? 0) + 23)).toBeLessThan(0.1)
  })
})

describe('loudness range', () => {
  // EBU Tech 3342, table 1, cases 1 to 4; the standard allows 1 LU.
  it.each([
    [1, [-20, -30], 10],
    [2, [-20, -15], 5],
    [3, [-40, -20], 20],
    [4, [-50, -35, -20, -35, -50], 15],
  ] as const)('EBU Tech 3342 case %i', (_case, levels, expected) => {
    const { rangeLu } = clipLoudness(stretches(levels.map((level) => [level, 20] as const)), RATE_HZ)
    expect(Math.abs((rangeLu ?? 0) - expected)).toBeLessThan(1)
  })

  it('has no answer for silence and for less than a window', () => {
    expect(clipLoudness(stretches([[SILENT_DB, 8]]), RATE_HZ).rangeLu).toBeNull()
    expect(clipLoudness(stretches([[-20, 2]]), RATE_HZ).rangeLu).toBeNull()
  })
})

describe('true peak', () => {
  // EBU Tech 3341, table 1, cases 15 to 19; the standard allows +0.2 and -0.4 dB.
  it.each([
    [15, 4, 0, 0.5, -6],
    [16, 4, 45, 0.5, -6],
    [17, 6, 60, 0.5, -6],
    [18, 8, 67.5, 0.5, -6],
    [19, 4, 45, Math.SQRT2, 3],
  ])('EBU Tech 3341 case %i', (_case, samplesPerPeriod, phaseDegrees, level, expected) => {
    const tone = Float32Array.from(
      { length: RATE_HZ },
      // Faded over 10 ms: a tone cut into overshoots by itself.
      (_, n) =>
        Math.min(1, n / 480, (RATE_HZ - n) / 480) *
        level *
        Math.sin((2 * Math.PI * n) / samplesPerPeriod + (Math.PI * phaseDegrees) / 180),
    )
    const difference = (clipLoudness([tone], RATE_HZ).truePeakDbtp ?? 0) - expected
    expect(difference).toBeLessThan(0.2)
    expect(difference).toBeGreaterThan(-0.4)
  })

  it('sees the peak between the samples', () => {
    // A quarter of the rate, shifted by 45 degrees: every sample is 3 dB under the true peak.
    const tone = new Float32Array(RATE_HZ).map((_, n) => 0.5 * Math.sin((Math.PI / 2) * n + Math.PI / 4))
    const { truePeakDbtp } = clipLoudness([tone], RATE_HZ)
    // EBU Tech 3341 allows +0.2 / -0.4 dB.
    expect(truePeakDbtp).toBeGreaterThan(-6.02 - 0.4)
    expect(truePeakDbtp).toBeLessThan(-6.02 + 0.2)
  })

  it('is never under the highest sample', () => {
    const track = noise(RATE_HZ, 4, 0.9)
    const highest = track.reduce((most, value) => Math.max(most, Math.abs(value)), 0)
    expect(clipLoudness([track], RATE_HZ).truePeakDbtp).toBeGreaterThanOrEqual(20 * Math.log10(highest) - 0.3)
  })
})

describe('input', () => {
  it.each([
    ['channel-count', () => new LoudnessMeter(3, RATE_HZ)],
    ['sample-rate', () => new LoudnessMeter(1, 4000)],
    ['length-mismatch', () => new LoudnessMeter(2, RATE_HZ).push([new Float32Array(2), new Float32Array(3)])],
    ['channel-count', () => new LoudnessMeter(2, RATE_HZ).push([new Float32Array(2)])],
  ])('is refused with the code %s', (code, act) => {
    expect(act).toThrow(expect.objectContaining({ name: 'AudioInputError', code }))
    expect(act).toThrow(AudioInputError)
  })
})
