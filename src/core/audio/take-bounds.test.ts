import { describe, expect, test } from 'vitest'
import { noise } from '../../../test/signals'
import { takeBounds } from './take-bounds'

const RATE_HZ = 48_000

/** A room with noise of its own, and a knock in it that dies away. */
function knock({ atS, roomDb, lengthS = 3 }: { atS: number; roomDb: number; lengthS?: number }): Float32Array {
  const room = noise(lengthS * RATE_HZ, 5, 10 ** (roomDb / 20))
  const from = Math.round(atS * RATE_HZ)
  const hit = noise(RATE_HZ, 6, 0.5)
  for (let n = 0; n < hit.length && from + n < room.length; n++)
    room[from + n] = (room[from + n] as number) + (hit[n] as number) * Math.exp(-n / (0.08 * RATE_HZ))
  return room
}

describe('where a recording is heard', () => {
  test.each([-90, -60, -45])('is its onset, and its end, in a room at %d dB', (roomDb) => {
    const bounds = takeBounds([knock({ atS: 1.2, roomDb })], RATE_HZ)
    expect(bounds?.startS).toBeGreaterThan(1.18)
    expect(bounds?.startS).toBeLessThanOrEqual(1.2)
    expect(bounds?.endS).toBeGreaterThan(1.3)
    expect(bounds?.endS).toBeLessThan(2.2)
  })

  test('is told by the louder of two sides', () => {
    const silent = new Float32Array(3 * RATE_HZ)
    expect(takeBounds([silent, knock({ atS: 0.5, roomDb: -70 })], RATE_HZ)?.startS).toBeCloseTo(0.49, 2)
  })

  test('is the whole of something that never stops, as rain is', () => {
    expect(takeBounds([noise(2 * RATE_HZ, 7, 0.2)], RATE_HZ)).toEqual({ startS: 0, endS: 2 })
  })

  test('is nowhere in silence, and in nothing', () => {
    expect(takeBounds([new Float32Array(RATE_HZ)], RATE_HZ)).toBeNull()
    expect(takeBounds([new Float32Array(0)], RATE_HZ)).toBeNull()
    expect(takeBounds([], RATE_HZ)).toBeNull()
  })

  test('is found in one that is longer than any that is recorded', () => {
    const hours = new Float32Array(1200 * 8000)
    hours.fill(0.3, 900 * 8000, 901 * 8000)
    expect(takeBounds([hours], 8000)?.startS).toBeCloseTo(899.99, 2)
  })

  test('never reaches beyond the recording', () => {
    const bounds = takeBounds([knock({ atS: 2.95, roomDb: -80 })], RATE_HZ)
    expect(bounds?.endS).toBe(3)
    expect(takeBounds([knock({ atS: 0, roomDb: -80 })], RATE_HZ)?.startS).toBe(0)
  })
})
