import { describe, expect, it } from 'vitest'
import { noise, sine } from '../../../test/signals'
import { PRINT_BAND_EDGES_HZ, PRINT_BANDS, PRINT_MAX_COLUMNS, soundPrint } from './print'

const RATE_HZ = 48000

function bandLevels(levels: Uint8Array, column: number): number[] {
  return [...levels.subarray(column * PRINT_BANDS, (column + 1) * PRINT_BANDS)]
}

describe('soundPrint', () => {
  it.each([0, 1, 2, 3])('shows a tone of band %i in that band', (band) => {
    const frequencyHz = Math.sqrt((PRINT_BAND_EDGES_HZ[band] as number) * (PRINT_BAND_EDGES_HZ[band + 1] as number))
    const { levels } = soundPrint(sine({ length: RATE_HZ, rateHz: RATE_HZ, frequencyHz }), RATE_HZ)
    const middle = bandLevels(levels, 25)
    expect(middle[band]).toBeGreaterThan(240)
    for (const other of middle.keys()) if (other !== band) expect(middle[other]).toBeLessThan(60)
  })

  it('has a column every 20 ms and shows when the sound is loud', () => {
    const clip = new Float32Array(RATE_HZ)
    clip.set(noise(RATE_HZ / 10, 1), RATE_HZ / 2)
    const { columnS, levels } = soundPrint(clip, RATE_HZ)
    expect(columnS).toBeCloseTo(0.02, 6)
    expect(levels.length).toBe(50 * PRINT_BANDS)
    expect(Math.max(...bandLevels(levels, 10))).toBe(0)
    expect(Math.max(...bandLevels(levels, 27))).toBeGreaterThan(240)
    expect(Math.max(...bandLevels(levels, 40))).toBe(0)
  })

  it('does not depend on the level of the file', () => {
    const loud = noise(RATE_HZ / 2, 6)
    const quiet = loud.map((value) => value * 0.01)
    expect([...soundPrint(quiet, RATE_HZ).levels]).toEqual([...soundPrint(loud, RATE_HZ).levels])
  })

  it('widens its columns for long sounds', () => {
    const rateHz = 8000
    const { columnS, levels } = soundPrint(noise(rateHz * 90, 2), rateHz)
    expect(levels.length / PRINT_BANDS).toBe(PRINT_MAX_COLUMNS)
    expect(columnS).toBeCloseTo(90 / PRINT_MAX_COLUMNS, 6)
  })

  it.each([0, 1, 100])('takes a clip of %i frames', (length) => {
    const { levels } = soundPrint(noise(length, 3), RATE_HZ)
    expect(levels.length).toBe(PRINT_BANDS)
  })

  it('is empty for silence', () => {
    expect(Math.max(...soundPrint(new Float32Array(RATE_HZ), RATE_HZ).levels)).toBe(0)
  })
})
