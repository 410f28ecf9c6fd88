import { describe, expect, it } from 'vitest'
import { coarser, PEAK_FRAMES, PeakMeter, peakLevelFor } from './peaks'

/** The plain reference: lowest and highest of each stretch of a sound. */
function slowPairs(samples: Float32Array, framesEach: number): number[] {
  const out: number[] = []
  for (let from = 0; from < samples.length; from += framesEach) {
    const part = samples.slice(from, from + framesEach)
    out.push(Math.floor(127 * Math.min(...part)), Math.ceil(127 * Math.max(...part)))
  }
  return out
}

describe('peaks', () => {
  it('are those of the plain reference at every level, however the sound comes in', () => {
    const samples = new Float32Array(200_001).map((_, i) => Math.sin(i * i * 1e-5) * Math.cos(i / 9000))
    const meter = new PeakMeter()
    for (let at = 0, n = 1; at < samples.length; at += n, n = (n * 7) % 4999) meter.push([samples.subarray(at, at + n)])
    const { levels, lengthFrames } = meter.result(48_000)
    expect(lengthFrames).toBe(samples.length)
    expect(levels.length).toBeGreaterThan(2)
    for (const [level, pairs] of levels.entries())
      expect([...pairs], `level ${level}`).toEqual(slowPairs(samples, PEAK_FRAMES * 2 ** level))
  })

  it('show the wider of two channels and what is louder than full scale as full scale', () => {
    const meter = new PeakMeter()
    meter.push([new Float32Array(PEAK_FRAMES).fill(0.1), new Float32Array(PEAK_FRAMES).fill(-3)])
    expect([...(meter.result(48_000).levels[0] ?? [])]).toEqual([-127, 13])
  })

  it('of nothing are nothing', () => {
    expect(new PeakMeter().result(48_000)).toEqual({
      sampleRateHz: 48_000,
      lengthFrames: 0,
      levels: [new Int8Array(0)],
    })
  })

  it('are made coarser with an odd one at the end', () => {
    expect([...coarser(Int8Array.of(-1, 2, -3, 1, -9, 9))]).toEqual([-3, 2, -9, 9])
  })

  it('are taken from the coarsest level that has one for each pixel', () => {
    expect([1, 64, 127, 128, 300, 1e9].map((perPx) => peakLevelFor(perPx, 5))).toEqual([0, 0, 0, 1, 2, 4])
  })
})
