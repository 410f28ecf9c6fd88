import { describe, expect, it } from 'vitest'
import { noise } from '../../../test/signals'
import { compand, compandSide, Track, trackOf } from './track'

describe('a track', () => {
  it('gives back its samples with an error 60 dB and more under each of them', () => {
    for (const level of [1.3, 0.3, 1e-3]) {
      const samples = noise(4000, 3, level)
      const back = trackOf(samples).midSamples(0, samples.length)
      let error = 0
      let energy = 0
      samples.forEach((value, i) => {
        error += (value - (back[i] as number)) ** 2
        energy += value * value
      })
      expect(10 * Math.log10(energy / error)).toBeGreaterThan(60)
    }
  })

  it('is silent outside its ends, and on its side when it is mono', () => {
    const track = trackOf(new Float32Array([0.5, 0.5, 0.5]))
    expect([...track.midSamples(-2, 5)].map((value) => Math.round(100 * value))).toEqual([0, 0, 50, 50, 50, 0, 0])
    expect([...track.sideSamples(0, 3)]).toEqual([0, 0, 0])
  })

  it('gives its side for its middle where they are exchanged, and neither is changed', () => {
    const track = trackOf(noise(200, 5, 0.4), noise(200, 6, 0.4))
    const exchanged = track.exchanged()
    expect(exchanged.midSamples(-20, 230)).toEqual(track.sideSamples(-20, 230))
    expect(exchanged.sideSamples(-20, 230)).toEqual(track.midSamples(-20, 230))
    expect(exchanged.midSamples(0, 200)).not.toEqual(track.midSamples(0, 200))
    expect([
      ...trackOf(noise(20, 5, 0.4))
        .exchanged()
        .midSamples(0, 20),
    ]).toEqual(new Array(20).fill(0))
  })

  it('reads into an array what it gives as one, over whatever stood there', () => {
    const track = trackOf(noise(200, 5, 0.4), noise(200, 6, 0.4))
    for (const [from, length] of [
      [10, 40],
      [-7, 30],
      [190, 25],
      [-300, 20],
      [500, 20],
      [-5, 300],
    ] as const) {
      const out = new Float32Array(length).fill(9)
      track.midInto(out, from)
      expect(out).toEqual(track.midSamples(from, from + length))
    }
  })

  it('reads no further than it is filled', () => {
    const codes = new Int16Array(10).fill(20000)
    const track = new Track(codes, null, 4)
    expect([...track.midSamples(3, 6)].map((value) => value > 0)).toEqual([true, false, false])
  })

  it('keeps middle and side apart, with their signs', () => {
    const track = trackOf(new Float32Array([0.25, -0.25]), new Float32Array([-0.1, 0.1]))
    expect(track.midSamples(0, 2)[1]).toBeCloseTo(-0.25, 4)
    expect(track.sideSamples(0, 2)[0]).toBeCloseTo(-0.1, 2)
  })

  it('gives back its side with an error 30 dB under each sample, down to what nobody hears', () => {
    for (const level of [1.9, 0.3, 1e-2, 2e-4]) {
      const side = noise(4000, 3, level)
      const back = trackOf(side, side).sideSamples(0, side.length)
      for (const [i, value] of side.entries()) {
        if (Math.abs(value) < 4e-5) expect(Math.abs(back[i] as number)).toBeLessThan(6e-5)
        else expect(Math.abs((back[i] as number) - value)).toBeLessThan(0.05 * Math.abs(value))
      }
    }
    const codes = new Int8Array(5).fill(9)
    compandSide(new Float32Array([0, -0, 1e-6, 9, -9]), codes, 0)
    expect([...codes]).toEqual([0, 0, 0, 127, -127])
  })

  it('reads its side as its middle: silent outside, and no further than it is filled', () => {
    const track = new Track(new Int16Array(4), new Int8Array(9).fill(100), 3)
    expect([...track.sideSamples(-2, 6)].map((value) => Number(value > 0)).join('')).toBe('00111000')
    expect([...track.sideSamples(7, 9)]).toEqual([0, 0])
  })

  it('limits what a decoder overshoots instead of wrapping round', () => {
    const codes = new Int16Array(2)
    compand(new Float32Array([9, -9]), codes, 0)
    expect(codes[0]).toBe(32767)
    expect(codes[1]).toBe(-32767)
  })
})
