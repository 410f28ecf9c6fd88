import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  FRAME_RATES,
  frameAt,
  frameOfTimecode,
  frameStartS,
  mayDropFrames,
  nearestFrameRate,
  nearestFrameS,
  rateName,
  secondsOfClock,
  timecodeOf,
} from './timecode'

const NTSC = { num: 30000, den: 1001 }
const FAST_NTSC = { num: 60000, den: 1001 }
const anyRate = fc.constantFrom(...FRAME_RATES)

describe('timecode', () => {
  it('drops the numbers that the standard drops, and no others', () => {
    expect(timecodeOf(1799, NTSC, true)).toBe('00:00:59;29')
    expect(timecodeOf(1800, NTSC, true)).toBe('00:01:00;02')
    expect(timecodeOf(17_982, NTSC, true)).toBe('00:10:00;00')
    expect(timecodeOf(107_892, NTSC, true)).toBe('01:00:00;00')
    expect(timecodeOf(3600, FAST_NTSC, true)).toBe('00:01:00;04')
  })

  it('does not drop where there is nothing to catch up with', () => {
    expect(timecodeOf(1800, { num: 30, den: 1 }, true)).toBe('00:01:00:00')
    expect(timecodeOf(1500, { num: 25, den: 1 }, true)).toBe('00:01:00:00')
    expect(mayDropFrames({ num: 24000, den: 1001 })).toBe(false)
  })

  it('keeps up with the clock for a whole day at 29.97', () => {
    const frame = frameAt(24 * 3600 - 1, NTSC)
    expect(timecodeOf(frame, NTSC, true).slice(0, 8)).toBe('23:59:59')
    expect(timecodeOf(frame, NTSC, false).slice(0, 5)).toBe('23:58')
  })

  it('is read as it was written, for every rate and frame', () => {
    fc.assert(
      fc.property(anyRate, fc.integer({ min: 0, max: 5_000_000 }), fc.boolean(), (rate, frame, drop) => {
        const read = frameOfTimecode(timecodeOf(frame, rate, drop), rate, drop)
        expect(read).toEqual({ frame })
      }),
    )
  })

  it('says what is wrong with what cannot be', () => {
    expect(frameOfTimecode('00:00:01:25', { num: 25, den: 1 })).toEqual({ problem: 'frame-too-high' })
    expect(frameOfTimecode('00:01:00;01', NTSC)).toEqual({ problem: 'dropped-number' })
    expect(frameOfTimecode('00:10:00;01', NTSC)).toEqual({ frame: 17_983 })
    for (const text of ['', '1:2:3', '00:61:00:00', '00:00:00:00x', '-00:00:01:00'])
      expect(frameOfTimecode(text, NTSC), text).toEqual({ problem: 'not-timecode' })
  })

  it('gives each frame the time in which it is shown, though containers round', () => {
    fc.assert(
      fc.property(anyRate, fc.integer({ min: 0, max: 2_000_000 }), (rate, frame) => {
        const startS = frameStartS(frame, rate)
        expect(frameAt(startS, rate)).toBe(frame)
        expect(frameAt(Math.floor(startS * 90_000) / 90_000, rate)).toBe(frame)
        expect(nearestFrameS(startS + 0.4 / (rate.num / rate.den), rate)).toBeCloseTo(startS, 9)
      }),
    )
  })

  it('knows the usual rates by what is measured of them', () => {
    expect(nearestFrameRate(29.97003)).toEqual({ num: 30000, den: 1001 })
    expect(nearestFrameRate(23.976)).toEqual({ num: 24000, den: 1001 })
    expect(rateName(nearestFrameRate(12.5))).toBe('12.5')
  })
})

describe('times as people write them', () => {
  it.each([
    ['1:02:03.5', 3723.5],
    ['23.4', 23.4],
    ['0:23,5', 23.5],
    ['7 s', 7],
    ['-1', -1],
    ['90', 90],
  ])('%s', (text, seconds) => expect(secondsOfClock(text)).toBeCloseTo(seconds, 9))

  it.each(['', 'soon', '1:2:3:4', '00:00:01:12', '1.2.3', '1e3', ':5'])('“%s” is no time', (text) =>
    expect(secondsOfClock(text)).toBeNull(),
  )
})
