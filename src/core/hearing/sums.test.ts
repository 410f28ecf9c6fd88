import { describe, expect, it } from 'vitest'
import { bed, effect, noise } from '../../../test/signals'
import { CELL_BANDS, CELL_HOP, CellTransform, cellFrames } from './cells'
import { HEARING_RATE_HZ } from './constants'
import { agreements, bandSums, flatCells } from './sums'

const transform = new CellTransform()
const sound = effect({ length: 9000, rateHz: HEARING_RATE_HZ, seed: 3 })
const frames = cellFrames(sound.length)
const cells = transform.cells(sound, 0, frames)

describe('agreements', () => {
  it.each([
    [0, frames],
    [3, 8],
    [5, 6],
  ])('gives for frames %i to %i what the full sums give', (from, to) => {
    const track = bed({ length: 30000, rateHz: HEARING_RATE_HZ, seed: 6 })
    const start = 4001
    const full = bandSums(transform.cells(track, start, frames), cells)
    const lean = agreements(transform, track, start, flatCells(cells, { from, to }))
    expect(lean.agreement.length).toBe((to - from) * CELL_BANDS)
    lean.agreement.forEach((value, row) => {
      const at = from * CELL_BANDS + row
      // Sums of up to 170 values of single precision.
      expect(value).toBeCloseTo(full.agreement[at] as number, 2)
      expect(lean.agreementVariance[row]).toBeCloseTo(full.agreementVariance[at] as number, 2)
    })
  })

  it('asks nothing of cells in which the track is silent', () => {
    const track = noise(30000, 2)
    track.fill(0, 6000)
    const lean = agreements(transform, track, 4000, flatCells(cells, { from: 0, to: frames }))
    const silentFrom = Math.ceil((6000 - 4000 + 1024) / CELL_HOP)
    expect(lean.agreementVariance.subarray(0, CELL_BANDS).every((value) => value > 0)).toBe(true)
    for (const values of [lean.agreement, lean.agreementVariance])
      for (const value of values.subarray(silentFrom * CELL_BANDS)) expect(Math.abs(value)).toBeLessThan(1e-3)
    // A little under nothing would make the root of it no number.
    expect(Math.min(...lean.agreementVariance)).toBeGreaterThanOrEqual(0)
  })
})
