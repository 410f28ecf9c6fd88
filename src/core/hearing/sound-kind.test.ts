import { describe, expect, it } from 'vitest'
import { noise } from '../../../test/signals'
import { soundKind } from './sound-kind'

const decaying = (lengthS: number, rateHz: number, sampleAt: (t: number, n: number) => number, fallS: number) =>
  Float32Array.from(
    { length: Math.round(lengthS * rateHz) },
    (_, n) => sampleAt(n / rateHz, n) * Math.exp(-n / rateHz / fallS),
  )

describe.each([16000, 48000])('the kind of a sound at %i Hz', (rateHz) => {
  const grain = noise(rateHz * 2, 5)
  const tone = (hz: number) => (t: number) => Math.sin(2 * Math.PI * hz * t)

  it('is a tone where few frequencies hold it, long, short or falling', () => {
    expect(soundKind(decaying(1, rateHz, tone(880), 10), rateHz)).toBe('tone')
    expect(soundKind(decaying(1, rateHz, tone(2200), 0.2), rateHz)).toBe('tone')
    // A pip that is over at once is a tone all the same: music answers to it.
    expect(soundKind(decaying(0.06, rateHz, tone(1500), 1), rateHz)).toBe('tone')
    const chord = (t: number): number => tone(440)(t) + tone(550)(t) + tone(660)(t)
    expect(soundKind(decaying(1, rateHz, chord, 0.5), rateHz)).toBe('tone')
  })

  it('is a click where it is over at once, also within silence', () => {
    const click = (_t: number, n: number): number => grain[n] as number
    expect(soundKind(decaying(0.4, rateHz, click, 0.005), rateHz)).toBe('click')
    const late = new Float32Array(rateHz)
    late.set(decaying(0.2, rateHz, click, 0.005), rateHz / 2)
    expect(soundKind(late, rateHz)).toBe('click')
    expect(soundKind(decaying(0.4, rateHz, click, 0.1), rateHz)).toBe('noise')
  })

  it('is noise for a tone in as much noise, for two clicks apart, and for silence', () => {
    const mixed = (t: number, n: number): number => tone(880)(t) + 1.4 * (grain[n] as number)
    expect(soundKind(decaying(1, rateHz, mixed, 10), rateHz)).toBe('noise')
    const two = new Float32Array(rateHz)
    for (const at of [0.1, 0.5])
      two.set(
        decaying(0.2, rateHz, (_t, n) => grain[n] as number, 0.005),
        at * rateHz,
      )
    expect(soundKind(two, rateHz)).toBe('noise')
    expect(soundKind(new Float32Array(rateHz), rateHz)).toBe('noise')
  })
})
