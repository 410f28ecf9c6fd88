import { describe, expect, it } from 'vitest'
import { noise } from '../../../test/signals'
import { piecePeaks } from './candidates'
import { CHUNK_FRAMES } from './constants'
import type { ChunkSummary } from './correlate'

const CHUNKS = 600
const PIECE = { start: 4000, samples: new Float32Array(8000) }

/** What white noise of unit variance gives: peaks about three deviations. */
function whiteSummary(): ChunkSummary {
  const wobble = noise(CHUNKS, 2)
  return {
    peak: Float32Array.from({ length: CHUNKS }, (_, chunk) => 3.1 + 0.4 * (wobble[chunk] as number)),
    peakAt: Int32Array.from({ length: CHUNKS }, (_, chunk) => chunk * CHUNK_FRAMES + 100),
    meanSquare: new Float32Array(CHUNKS).fill(1),
  }
}

describe('piecePeaks', () => {
  it('finds nothing in noise', () => {
    expect(piecePeaks(whiteSummary(), PIECE)).toEqual([])
  })

  it('finds what stands out, and says where the whole sound would start', () => {
    const summary = whiteSummary()
    summary.peak[300] = 12
    summary.peak[301] = 9
    expect(piecePeaks(summary, PIECE)).toEqual([
      { lag: 300 * CHUNK_FRAMES + 100 - 4000, pieceFrom: 4000, pieceTo: 12000, z: 12 },
    ])
  })

  it('does not depend on the level of the track', () => {
    const summary = whiteSummary()
    summary.peak[300] = 12
    const louder = {
      ...summary,
      peak: summary.peak.map((v) => v * 50),
      meanSquare: summary.meanSquare.map((v) => v * 2500),
    }
    expect(piecePeaks(louder, PIECE)[0]?.z).toBeCloseTo(12, 4)
  })

  it('does not take a loud stretch for a find', () => {
    const summary = whiteSummary()
    for (let chunk = 280; chunk < 320; chunk++) {
      summary.peak[chunk] = 12
      summary.meanSquare[chunk] = 16
    }
    expect(piecePeaks(summary, PIECE)).toEqual([])
  })

  it('asks more of a piece that rings all over the track', () => {
    const summary = whiteSummary()
    for (let chunk = 0; chunk < CHUNKS; chunk += 6) summary.peak[chunk] = 7
    summary.peak[300] = 9
    expect(piecePeaks(summary, PIECE)).toEqual([])
    summary.peak[300] = 20
    expect(piecePeaks(summary, PIECE)).toHaveLength(1)
  })

  it('gives at most 64, the highest first', () => {
    const summary = whiteSummary()
    for (let k = 0; k < 80; k++) summary.peak[7 * k + 3] = 40 + k
    const peaks = piecePeaks({ ...summary, peak: summary.peak.map((v) => v) }, PIECE)
    expect(peaks.length).toBeLessThanOrEqual(64)
    expect(peaks.map(({ z }) => z)).toEqual(peaks.map(({ z }) => z).sort((a, b) => b - a))
  })

  it('takes silence and an empty track', () => {
    const silent = { peak: new Float32Array(9), peakAt: new Int32Array(9), meanSquare: new Float32Array(9) }
    expect(piecePeaks(silent, PIECE)).toEqual([])
    expect(
      piecePeaks({ peak: new Float32Array(0), peakAt: new Int32Array(0), meanSquare: new Float32Array(0) }, PIECE),
    ).toEqual([])
  })
})
