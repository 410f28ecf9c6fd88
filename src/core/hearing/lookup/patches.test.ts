import { describe, expect, it } from 'vitest'
import { noise } from '../../../../test/signals'
import { trackOf } from '../track'
import { BANDS_AN_OCTAVE, bandMap, MAP_BANDS } from './band-map'
import { bandCosines, patchComponents } from './cosines'
import {
  BAND_ORDERS,
  BAND_ORDERS_USED,
  COMPONENTS,
  PATCH_BANDS,
  PATCH_FRAMES,
  PATCH_HOP,
  TIME_ORDERS,
  TRACK_HOP,
} from './patch-shape'
import { patchCount, ROW_MAX, trackPatches } from './track-patches'

const RATE_HZ = 16000

function tone(hz: number, frames: number): Float32Array {
  return new Float32Array(frames).map((_, n) => 0.3 * Math.sin((2 * Math.PI * hz * n) / RATE_HZ))
}

function loudestBand(samples: Float32Array, frame: number): number {
  const { power } = bandMap(samples, TRACK_HOP)
  const row = power.subarray(frame * MAP_BANDS, (frame + 1) * MAP_BANDS)
  return row.indexOf(Math.max(...row))
}

describe('the map of a sound', () => {
  it.each([200, 415, 425, 900, 1290, 1310, 5000])('shows a tone of %d Hz in its band', (hz) => {
    expect(loudestBand(tone(hz, RATE_HZ), 20)).toBeCloseTo(BANDS_AN_OCTAVE * Math.log2(hz / 160), -0.5)
  })

  it('is moved along by a change of speed, an octave for twice as fast', () => {
    expect(loudestBand(tone(1600, RATE_HZ), 20) - loudestBand(tone(800, RATE_HZ), 20)).toBe(BANDS_AN_OCTAVE)
  })

  it('gives a range of frames as they are in the whole', () => {
    const samples = noise(RATE_HZ, 3)
    const whole = bandMap(samples, TRACK_HOP).power
    const part = bandMap(samples, TRACK_HOP, { from: 11, to: 18 })
    expect(part.frames).toBe(7)
    for (let at = 0; at < part.power.length; at++)
      expect(part.power[at]).toBeCloseTo(whole[11 * MAP_BANDS + at] as number, 3)
  })

  it('has silence where there is nothing, also for no samples at all', () => {
    expect(Math.max(...bandMap(new Float32Array(0), TRACK_HOP).power)).toBe(0)
    expect(Math.max(...bandMap(new Float32Array(3000), TRACK_HOP).power)).toBe(0)
  })
})

describe('the components of a patch', () => {
  const rows = Float64Array.from(noise(PATCH_FRAMES * PATCH_BANDS, 4))
  const values = new Float32Array(COMPONENTS)
  patchComponents(bandCosines(rows), 0, values)

  it('are its cosine transform, as the definition has it', () => {
    for (let k = 0; k < COMPONENTS; k += 3) {
      const time = TIME_ORDERS[k] as number
      const band = BAND_ORDERS[k] as number
      let sum = 0
      for (let n = 0; n < PATCH_FRAMES; n++)
        for (let b = 0; b < PATCH_BANDS; b++)
          sum +=
            (rows[n * PATCH_BANDS + b] as number) *
            Math.cos((Math.PI * (n + 0.5) * time) / PATCH_FRAMES) *
            Math.cos((Math.PI * (b + 0.5) * band) / PATCH_BANDS)
      const scale = Math.sqrt(((time ? 2 : 1) / PATCH_FRAMES) * ((band ? 2 : 1) / PATCH_BANDS))
      expect(values[k]).toBeCloseTo(scale * sum, 3)
    }
  })

  it('are made of each row by itself, whether it has a neighbour, a silent one, or none', () => {
    const few = rows
      .slice(0, 5 * PATCH_BANDS)
      .fill(0, 2 * PATCH_BANDS, 4 * PATCH_BANDS)
      .fill(0, 0, PATCH_BANDS)
    const together = bandCosines(few)
    expect(together).toHaveLength(5 * BAND_ORDERS_USED)
    for (let row = 0; row < 5; row++) {
      const alone = bandCosines(few.subarray(row * PATCH_BANDS, (row + 1) * PATCH_BANDS))
      expect(together.subarray(row * BAND_ORDERS_USED, (row + 1) * BAND_ORDERS_USED)).toEqual(alone)
    }
    expect(together.some((value) => value !== 0)).toBe(true)
    expect(together.subarray(2 * BAND_ORDERS_USED, 4 * BAND_ORDERS_USED).every((value) => value === 0)).toBe(true)
  })

  it('do not hold the mean, and no shape twice', () => {
    const names = [...TIME_ORDERS].map((time, k) => `${time} ${BAND_ORDERS[k]}`)
    expect(new Set(names).size).toBe(COMPONENTS)
    expect(names).not.toContain('0 0')
    const even = new Float32Array(COMPONENTS)
    patchComponents(bandCosines(new Float64Array(rows.length).fill(2)), 0, even)
    expect(Math.max(...even.map(Math.abs))).toBeLessThan(1e-4)
  })

  it('take rows before the first and after the last as nothing', () => {
    const bands = bandCosines(rows)
    const late = new Float32Array(COMPONENTS)
    patchComponents(bands, -10, late)
    const padded = new Float64Array(bands.length + 10 * BAND_ORDERS_USED)
    padded.set(bands, 10 * BAND_ORDERS_USED)
    const same = new Float32Array(COMPONENTS)
    patchComponents(padded.subarray(0, bands.length), 0, same)
    for (let k = 0; k < COMPONENTS; k++) expect(late[k]).toBeCloseTo(same[k] as number, 4)
    const beyond = new Float32Array(COMPONENTS).fill(1)
    patchComponents(bands, 3 * PATCH_FRAMES, beyond)
    expect(Math.max(...beyond)).toBe(0)
  })
})

describe('the patches of a track', () => {
  const track = trackOf(noise(20 * RATE_HZ, 9).map((value) => 0.1 * value))
  const rowOf = (rows: Int16Array, at: number): Int16Array => rows.subarray(at * COMPONENTS, (at + 1) * COMPONENTS)

  it('stand at the same places whether the track is taken whole or in stretches', { tags: 'long' }, () => {
    const first = { start: 0, frames: 10 * RATE_HZ }
    const second = { start: 10 * RATE_HZ, frames: 10 * RATE_HZ }
    expect(patchCount(first) + patchCount(second)).toBe(patchCount({ start: 0, frames: 20 * RATE_HZ }))
    expect(trackPatches(track, second).start).toBe(patchCount(first) * PATCH_HOP)
  })

  it('do not depend on how loud the track is', () => {
    const stretch = { start: 0, frames: 4 * RATE_HZ }
    const soft = trackOf(noise(20 * RATE_HZ, 9).map((value) => 0.01 * value))
    const loud = rowOf(trackPatches(track, stretch).rows, 30)
    const quiet = rowOf(trackPatches(soft, stretch).rows, 30)
    const product = (a: Int16Array, b: Int16Array): number =>
      a.reduce((sum, value, k) => sum + value * (b[k] as number), 0)
    expect(product(loud, quiet) / Math.sqrt(product(loud, loud) * product(quiet, quiet))).toBeGreaterThan(0.98)
  })

  it('stay within their range, in silence too, and for a track shorter than a patch', { tags: 'long' }, () => {
    for (const samples of [new Float32Array(2 * RATE_HZ), noise(900, 2), new Float32Array(0)]) {
      const short = trackOf(samples)
      const { rows } = trackPatches(short, { start: 0, frames: Math.max(1, short.frames) })
      expect(rows.length % COMPONENTS).toBe(0)
      for (const value of rows) expect(Math.abs(value)).toBeLessThanOrEqual(ROW_MAX)
    }
  })
})
