import { describe, expect, it } from 'vitest'
import { addAt, noise, rms, sine } from '../../../test/signals'
import { BLOCK_ADVANCE, BLOCK_CHUNKS, CHUNK_FRAMES, WINDOW_FRAMES } from './constants'
import {
  blockCount,
  Correlator,
  halved,
  preparedWindow,
  spectraLength,
  trackWindows,
  whitenedLength,
  whitenedStretch,
} from './correlate'
import type { BlockKernel } from './kernel/block-kernel'
import { PlainKernel } from './kernel/plain-kernel'
import { wasmKernel } from './kernel/wasm-kernel'
import { unitNorm } from './products'
import { trackOf } from './track'
import { whitenedSound, whitenedTrack } from './whiten'

function template(length: number, seed: number): Float32Array {
  const samples = noise(length, seed)
  const norm = Math.sqrt(samples.reduce((sum, value) => sum + value * value, 0))
  return samples.map((value) => value / norm)
}

/** The correlation by its definition. */
function plainCorrelation(track: Float32Array, piece: Float32Array, at: number): number {
  let sum = 0
  for (let k = 0; k < piece.length; k++) sum += (track[at + k] ?? 0) * (piece[k] as number)
  return sum
}

describe.each([
  ['plain', () => new PlainKernel()],
  ['wasm', () => wasmKernel() as BlockKernel],
] as const)('Correlator with the %s kernel', (_name, makeKernel) => {
  // Longer than two blocks, so that the seams between blocks and pairs are crossed.
  const samples = noise(2 * BLOCK_ADVANCE + 9000, 31, 0.2)
  const track = trackOf(samples)
  const kernel = makeKernel()
  const window = preparedWindow(track, { start: 0, frames: samples.length }, kernel)
  const whitened = whitenedTrack(samples)

  it.each([700, 16000])('agrees with the definition for a piece of %i frames, in chunks all over', (length) => {
    const piece = template(length, length)
    const all = new Uint8Array(blockCount(samples.length)).fill(1)
    const summary = new Correlator(kernel).summary(window, piece, 0, all)
    expect(summary.peak.length).toBe(Math.ceil(samples.length / CHUNK_FRAMES))
    for (const chunk of [0, 1, 50, BLOCK_CHUNKS - 1, BLOCK_CHUNKS, 2 * BLOCK_CHUNKS, 200]) {
      const values = Array.from({ length: CHUNK_FRAMES }, (_, n) =>
        plainCorrelation(whitened, piece, chunk * CHUNK_FRAMES + n),
      )
      const peak = Math.max(0, ...values)
      expect(Math.abs((summary.peak[chunk] as number) - peak)).toBeLessThan(0.02)
      expect(plainCorrelation(whitened, piece, summary.peakAt?.[chunk] as number)).toBeCloseTo(peak, 2)
      const square = values.reduce((sum, value) => sum + value * value, 0) / CHUNK_FRAMES
      expect(Math.abs((summary.meanSquare[chunk] as number) / square - 1)).toBeLessThan(0.03)
    }
  })

  it.each([0, 1, 2] as const)(
    'shows a piece that lies in the track at its place (band halved %i times)',
    (halvings) => {
      const carrier = noise(30000, 8, 0.05)
      let piece = template(4000, 77)
      addAt(carrier, piece, 12345, 20)
      for (let k = 0; k < halvings; k++) piece = halved(piece)
      const searched = preparedWindow(trackOf(carrier), { start: 0, frames: carrier.length }, kernel)
      const summary = new Correlator(kernel).summary(searched, piece, halvings, new Uint8Array([1]))
      const chunk = Math.floor(12345 / CHUNK_FRAMES)
      expect(summary.peak.indexOf(Math.max(...summary.peak))).toBe(chunk)
      expect(Math.abs((summary.peakAt?.[chunk] as number) - 12345)).toBeLessThanOrEqual(
        halvings === 0 ? 0 : 2 ** halvings,
      )
    },
  )

  it('does only the blocks that are asked for', () => {
    const only = new Uint8Array([0, 0, 1])
    const summary = new Correlator(kernel).summary(window, template(700, 1), 0, only)
    expect(summary.peak.subarray(0, 2 * BLOCK_CHUNKS).every((value) => value === 0)).toBe(true)
    expect(summary.peak[2 * BLOCK_CHUNKS]).toBeGreaterThan(0)
  })

  it('gives the same in a window that begins later', () => {
    const start = BLOCK_ADVANCE
    const later = preparedWindow(track, { start, frames: samples.length - start }, kernel)
    const piece = template(2000, 3)
    const whole = new Correlator(kernel).summary(window, piece, 0)
    const part = new Correlator(kernel).summary(later, piece, 0)
    for (const chunk of [0, 1, 40, 100])
      expect(Math.abs((part.peak[chunk] as number) - (whole.peak[chunk + BLOCK_CHUNKS] as number))).toBeLessThan(0.02)
  })
})

describe('preparedWindow', () => {
  it('fills arrays that it is given, for instance in shared memory', () => {
    const samples = noise(2000, 3)
    const length = spectraLength(samples.length)
    const into = {
      spectraRe: new Float32Array(new SharedArrayBuffer(4 * length)),
      spectraIm: new Float32Array(new SharedArrayBuffer(4 * length)),
      whitened: new Float32Array(new SharedArrayBuffer(4 * whitenedLength(samples.length))),
      whitenedHalf: new Float32Array(new SharedArrayBuffer(2 * whitenedLength(samples.length))),
    }
    const range = { start: 0, frames: samples.length }
    const shared = preparedWindow(trackOf(samples), range, new PlainKernel(), into)
    expect(shared.spectraRe).toBe(into.spectraRe)
    const own = preparedWindow(trackOf(samples), range, new PlainKernel())
    expect([...into.spectraRe.subarray(0, 200)]).toEqual([...own.spectraRe.subarray(0, 200)])
  })

  it('gives the whitened track as it was transformed, and silence beyond', () => {
    const samples = noise(60000, 6, 0.3)
    const whole = whitenedTrack(samples)
    const window = preparedWindow(trackOf(samples), { start: 4096, frames: 20000 }, new PlainKernel())
    const stretch = whitenedStretch(window, 5000, 5100)
    stretch.forEach((value, n) => {
      expect(Math.abs(value - (whole[5000 + n] as number))).toBeLessThan(0.02)
    })
    const early = whitenedStretch(window, 4000, 4200)
    expect(early.subarray(0, 96).every((value) => value === 0)).toBe(true)
    expect(early[150]).toBe(whitenedStretch(window, 4100, 4200)[50])
  })

  it.each([
    [0, 1],
    [1, 1],
    [BLOCK_ADVANCE, 1],
    [BLOCK_ADVANCE + 1, 2],
  ])('cuts %i frames into %i blocks', (frames, blocks) => {
    expect(blockCount(frames)).toBe(blocks)
  })
})

describe('trackWindows', () => {
  it('covers a track without gap or overlap, in whole blocks but for the last', () => {
    const windows = trackWindows(2 * WINDOW_FRAMES + 5)
    expect(windows).toEqual([
      { start: 0, frames: WINDOW_FRAMES },
      { start: WINDOW_FRAMES, frames: WINDOW_FRAMES },
      { start: 2 * WINDOW_FRAMES, frames: 5 },
    ])
    expect(WINDOW_FRAMES % BLOCK_ADVANCE).toBe(0)
    expect(trackWindows(0)).toEqual([{ start: 0, frames: 0 }])
  })
})

describe('halved', () => {
  it('keeps what is low and removes what would fold back', () => {
    const low = halved(sine({ length: 8000, rateHz: 16000, frequencyHz: 2000 }))
    expect(low.length).toBe(4000)
    expect(rms(low.subarray(100, 3900))).toBeCloseTo(Math.SQRT1_2, 2)
    const high = halved(sine({ length: 8000, rateHz: 16000, frequencyHz: 6200 }))
    expect(rms(high.subarray(100, 3900))).toBeLessThan(0.003)
  })
})

describe('answeringBlocks', () => {
  it('tells a place where a template answers in the lower half of the band from places where it does not', () => {
    const piece = noise(6000, 12)
    const samples = noise(2 * BLOCK_ADVANCE, 13, 0.3)
    addAt(samples, piece, 60000, 0.15)
    const correlator = new Correlator()
    const window = preparedWindow(trackOf(samples), { start: 0, frames: samples.length }, correlator.kernel)
    const half = unitNorm(halved(whitenedSound(piece)))
    // A coarser look is a few frames off.
    const places = [
      { block: 0, at: 20000 },
      { block: 1, at: 60004 },
      { block: 0, at: -40 },
      { block: 1, at: 2 * BLOCK_ADVANCE + 90000 },
    ]
    expect([...correlator.answeringBlocks(window, half, places, 8)]).toEqual([0, 1])
    expect([...correlator.answeringBlocks(window, half, places.slice(0, 1), 8)]).toEqual([0, 0])
    expect([...correlator.answeringBlocks(window, half, [], 8)]).toEqual([0, 0])
  })
})
