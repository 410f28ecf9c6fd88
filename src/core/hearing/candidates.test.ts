import { describe, expect, it } from 'vitest'
import { noise, sine } from '../../../test/signals'
import { coarsePlaces, flaggedBlocks, heightsOf, type PiecePeak, piecePeaks, ringingOf } from './candidates'
import type { ChunkSummary } from './chunk-summary'
import { BLOCK_CHUNKS, CHUNK_FRAMES } from './constants'
import { halvedTimes } from './correlate'

const CHUNKS = 600
const PIECE = { start: 4000, end: 12000 }

/** What white noise of unit variance gives: peaks about three deviations. */
function whiteSummary(): ChunkSummary {
  const wobble = noise(CHUNKS, 2)
  return {
    peak: new Float32Array(CHUNKS).map((_, chunk) => 3.1 + 0.4 * (wobble[chunk] as number)),
    peakAt: Int32Array.from({ length: CHUNKS }, (_, chunk) => chunk * CHUNK_FRAMES + 100),
    meanSquare: new Float32Array(CHUNKS).fill(1),
  }
}

function peaksOf(summary: ChunkSummary): PiecePeak[] {
  return piecePeaks(summary, heightsOf(summary, 0), PIECE, { windowStart: 0, zMin: 5.8 })
}

describe('piecePeaks', () => {
  it('finds nothing in noise', () => {
    expect(peaksOf(whiteSummary())).toEqual([])
  })

  it('finds what stands out, and says where the whole sound would start', () => {
    const summary = whiteSummary()
    summary.peak[300] = 12
    summary.peak[301] = 9
    expect(peaksOf(summary)).toEqual([{ lag: 300 * CHUNK_FRAMES + 100 - 4000, pieceFrom: 4000, pieceTo: 12000, z: 12 }])
    const later = piecePeaks(summary, heightsOf(summary, 0), PIECE, { windowStart: 5000, zMin: 5.8 })
    expect(later[0]?.lag).toBe(5000 + 300 * CHUNK_FRAMES + 100 - 4000)
  })

  it('does not depend on the level of the track', () => {
    const summary = whiteSummary()
    summary.peak[300] = 12
    const louder = {
      ...summary,
      peak: summary.peak.map((v) => v * 50),
      meanSquare: summary.meanSquare.map((v) => v * 2500),
    }
    expect(peaksOf(louder)[0]?.z).toBeCloseTo(12, 4)
  })

  it('does not take a loud stretch for a find', () => {
    const summary = whiteSummary()
    for (let chunk = 280; chunk < 320; chunk++) {
      summary.peak[chunk] = 12
      summary.meanSquare[chunk] = 16
    }
    expect(peaksOf(summary)).toEqual([])
  })

  it('asks more of a piece that rings all over the track', () => {
    const summary = whiteSummary()
    for (let chunk = 0; chunk < CHUNKS; chunk += 6) summary.peak[chunk] = 7
    summary.peak[300] = 9
    expect(peaksOf(summary)).toEqual([])
    summary.peak[300] = 20
    expect(peaksOf(summary)).toHaveLength(1)
  })

  it('gives at most 64, the highest first', () => {
    const summary = whiteSummary()
    for (let k = 0; k < 80; k++) summary.peak[7 * k + 3] = 40 + k
    const peaks = piecePeaks(summary, heightsOf(summary, 0, { scale: 1 }), PIECE, { windowStart: 0, zMin: 5.8 })
    expect(peaks).toHaveLength(64)
    expect(peaks.map(({ z }) => z)).toEqual(peaks.map(({ z }) => z).sort((a, b) => b - a))
  })

  it('takes silence, an empty track and chunks that were not computed', () => {
    expect(peaksOf({ peak: new Float32Array(9), peakAt: null, meanSquare: new Float32Array(9) })).toEqual([])
    expect(peaksOf({ peak: new Float32Array(0), peakAt: null, meanSquare: new Float32Array(0) })).toEqual([])
    const summary = whiteSummary()
    summary.peak.fill(0, 0, 290)
    summary.meanSquare.fill(0, 0, 290)
    summary.peak[300] = 12
    expect(
      piecePeaks(summary, heightsOf(summary, 0, { scale: 1 }), PIECE, { windowStart: 0, zMin: 5.8 })[0]?.z,
    ).toBeCloseTo(12, 4)
  })
})

describe('flaggedBlocks', () => {
  it('marks the blocks in which a height reaches the threshold', () => {
    const z = new Float32Array(3 * BLOCK_CHUNKS)
    z[BLOCK_CHUNKS] = 4.7
    z[3 * BLOCK_CHUNKS - 1] = 4.5
    expect([...flaggedBlocks(z, 4.6, 3)]).toEqual([0, 1, 0])
  })
})

describe('coarsePlaces', () => {
  it('names the block and the frame of each chunk that reaches the threshold', () => {
    const summary = whiteSummary()
    const z = new Float32Array(CHUNKS)
    z[BLOCK_CHUNKS - 1] = 4
    z[BLOCK_CHUNKS] = 3.5
    z[3 * BLOCK_CHUNKS] = 3.7
    expect(coarsePlaces(z, summary, 3.6)).toEqual([
      { block: 0, at: (BLOCK_CHUNKS - 1) * CHUNK_FRAMES + 100 },
      { block: 3, at: 3 * BLOCK_CHUNKS * CHUNK_FRAMES + 100 },
    ])
  })
})

describe('what a piece answers to itself', () => {
  const lengthFrames = 4800
  const envelope = (n: number): number => Math.sin((Math.PI * (n + 0.5)) / lengthFrames)
  const tone = sine({ length: lengthFrames, rateHz: 16_000, frequencyHz: 900 }).map((value, n) => value * envelope(n))

  it('is much of it for a tone, less the farther, and next to nothing for noise', () => {
    const [next, second] = ringingOf(tone, 0)
    // Half of a square of a cosine, less what the envelope takes.
    expect(next).toBeGreaterThan(0.35)
    expect(next).toBeLessThan(0.5)
    expect(second).toBeLessThan(next)
    expect(second).toBeGreaterThan(0.2)
    const [ofNoise, later] = ringingOf(noise(lengthFrames, 5), 0)
    expect(ofNoise).toBeLessThan(0.001)
    expect(later).toBeLessThan(0.001)
  })

  it('depends neither on the level nor on how much of the band is left', () => {
    const [next, second] = ringingOf(tone, 0)
    for (const halvings of [1, 2] as const) {
      const less = ringingOf(
        halvedTimes(tone, halvings).map((value) => 30 * value),
        halvings,
      )
      expect(Math.abs(less[0] - next)).toBeLessThan(0.1)
      expect(Math.abs(less[1] - second)).toBeLessThan(0.1)
    }
  })

  it('is nothing of silence, and ends with the piece', () => {
    expect(ringingOf(new Float32Array(2000), 0)).toEqual([0, 0])
    expect(ringingOf(tone.subarray(0, 200), 0)).toEqual([0, 0])
  })

  /** A tone that answers at one place, and beside it as its neighbours say. */
  function besideTone(neighbours: number): number {
    const summary = whiteSummary()
    summary.peak[300] = 9
    for (const chunk of [298, 299, 301, 302]) summary.meanSquare[chunk] = neighbours
    return heightsOf(summary, 0, { scale: 1, ringing: ringingOf(tone, 0) }).z[300] as number
  }

  it('does not hide the place of a tone, but any ringing beyond it does', () => {
    // As much as the tone itself accounts for.
    expect(besideTone(10)).toBeGreaterThan(7)
    // A tone of the same pitch that goes on: as strong on both sides as here.
    expect(besideTone(40)).toBeLessThan(2)
    expect(besideTone(1)).toBeCloseTo(9, 4)
  })
})
