import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { isLeadingRate, PictureLead } from './lead-picture'

const REPORT_S = 0.085
const FRAME_S = 1 / 24

/** Plays for so many reports; the sound does what it is told from the next report on. @returns How far the picture was ahead at each. */
function playedTogether(apartS: number, reports: number, slowerFraction = 0): number[] {
  const lead = new PictureLead()
  lead.begin()
  let driftS = apartS
  let rate = 1
  return Array.from({ length: reports }, () => {
    const step = lead.next(driftS)
    if (step.kind === 'begin-anew') {
      lead.begin()
      driftS = 0.1
    }
    if (step.kind === 'move-sound') driftS -= step.byS
    if (step.kind === 'play-picture') rate = step.rate
    driftS += (rate * (1 - slowerFraction) - 1) * REPORT_S
    return driftS
  })
}

describe('picture and sound', () => {
  test('are together within a frame a moment after they began, however far apart', () => {
    fc.assert(
      fc.property(fc.double({ min: -0.9, max: 0.9, noNaN: true }), (apartS) => {
        for (const driftS of playedTogether(apartS, 40).slice(6)) expect(Math.abs(driftS)).toBeLessThan(FRAME_S)
      }),
    )
  })

  test('stay so where the picture is played too slowly by the machine', () => {
    for (const driftS of playedTogether(0.2, 400, 0.01).slice(20)) expect(Math.abs(driftS)).toBeLessThan(FRAME_S)
  })

  test('the sound jumps only in its first moments; later the picture goes after it', () => {
    const lead = new PictureLead()
    lead.begin()
    expect(lead.next(0.1)).toEqual({ kind: 'move-sound', byS: 0.1 })
    expect(lead.next(0.001)).toEqual({ kind: 'play-picture', rate: 1 })
    const later = lead.next(0.1)
    expect(later.kind).toBe('play-picture')
    expect(later.kind === 'play-picture' && later.rate).toBeLessThan(1)
  })

  test('a picture a second away is not chased', () => {
    expect(new PictureLead().next(-1)).toEqual({ kind: 'begin-anew' })
  })

  test('twice the speed is a wish and no leading', () => {
    expect(isLeadingRate(2)).toBe(false)
    expect(isLeadingRate(0.5)).toBe(false)
    expect(isLeadingRate(1.04)).toBe(true)
  })
})
