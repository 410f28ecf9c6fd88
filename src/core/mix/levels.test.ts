import { describe, expect, it } from 'vitest'
import { gainToSit, LEVEL_TO_VOICE_LU, loudnessBeside, suggestedGainDb, voiceLoudness } from './levels'

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

describe('what a placed sound sits to', () => {
  // Ten seconds of speech at -23, then the cut alone at -35, then silence.
  const track = Array.from({ length: 300 }, (_, at) => (at < 100 ? -23 : at < 200 ? -35 : -120))
  const speech = [{ startS: 0, endS: 10 }]
  const beside = (startS: number, endS: number) => loudnessBeside(track, speech, { startS, endS })

  it('is the voice as soon as somebody speaks meanwhile, and only while it is heard', () => {
    expect(beside(2, 6)).toMatchObject({ what: 'voice', lufs: expect.closeTo(-23, 6) })
    expect(beside(8, 18)).toMatchObject({ what: 'voice', lufs: expect.closeTo(-23, 6) })
    expect(beside(4, 4.05)).toMatchObject({ what: 'voice', lufs: expect.closeTo(-23, 6) })
  })

  it('is else the cut there; in silence and behind its end it is nothing', () => {
    expect(beside(12, 15)).toMatchObject({ what: 'cut', lufs: expect.closeTo(-35, 6) })
    expect(beside(14, 14.1)).toMatchObject({ what: 'cut', lufs: expect.closeTo(-35, 6) })
    expect(beside(22, 25)).toBeNull()
    expect(beside(60, 61)).toBeNull()
  })

  it('is reached to a tenth, within the bounds of levels', () => {
    expect(gainToSit(-18.04, -23, -6)).toBe(-11)
    expect(gainToSit(-18.04, -23, -6) - 18.04 + 23).toBeCloseTo(-6, 1)
    expect([gainToSit(-70, -20, 0), gainToSit(0, -60, -20)]).toEqual([12, -40])
  })
})

describe('the level that is suggested', () => {
  it('puts a sound so far under the voice as its kind is', () => {
    expect(suggestedGainDb('spot', -16, -20)).toBe(-20 + LEVEL_TO_VOICE_LU.spot + 16)
    expect(suggestedGainDb('ambience', -30, -20)).toBe(-8)
    expect(suggestedGainDb('ambience', -30, -20, { ...LEVEL_TO_VOICE_LU, ambience: -10 })).toBe(0)
  })

  it('goes no further than the bounds, and leaves alone what it cannot judge', () => {
    expect(suggestedGainDb('hit', -60, -10)).toBe(12)
    expect(suggestedGainDb('ambience', 0, -40)).toBe(-40)
    expect(suggestedGainDb('hit', null, -20)).toBe(0)
  })
})
