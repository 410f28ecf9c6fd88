import { describe, expect, it } from 'vitest'
import { LEVEL_TO_VOICE_LU, suggestedGainDb, voiceLoudness } from './levels'

describe('the loudness of the voice', () => {
  const track = Array.from({ length: 200 }, (_, at) => (at < 100 ? -23 : at % 20 < 5 ? -70 : -17))

  it('is that of what is spoken, without the pauses in it and what is beside it', () => {
    expect(voiceLoudness(track, [{ startS: 0, endS: 9 }])).toBeCloseTo(-23, 6)
    expect(voiceLoudness(track, [{ startS: 10, endS: 20 }])).toBeCloseTo(-17, 6)
  })

  it('is a mean of powers over several stretches', () => {
    const both = voiceLoudness(track, [
      { startS: 1, endS: 9 },
      { startS: 11, endS: 19 },
    ])
    expect(both).toBeGreaterThan(-20)
    expect(both).toBeLessThan(-17)
  })

  it('is unknown where nobody speaks, or only silence is', () => {
    expect(voiceLoudness(track, [])).toBeNull()
    expect(voiceLoudness(Array(100).fill(-120), [{ startS: 0, endS: 9 }])).toBeNull()
    expect(voiceLoudness(track, [{ startS: 50, endS: 60 }])).toBeNull()
  })
})

describe('the level that is suggested', () => {
  it('puts a sound so far under the voice as its kind is', () => {
    expect(suggestedGainDb('spot', -16, -20)).toBe(-20 + LEVEL_TO_VOICE_LU.spot + 16)
    expect(suggestedGainDb('ambience', -30, -20)).toBe(-8)
  })

  it('goes no further than the bounds, and leaves alone what it cannot judge', () => {
    expect(suggestedGainDb('hit', -60, -10)).toBe(12)
    expect(suggestedGainDb('ambience', 0, -40)).toBe(-40)
    expect(suggestedGainDb('hit', null, -20)).toBe(0)
  })
})
