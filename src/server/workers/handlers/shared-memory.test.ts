import { describe, expect, it } from 'vitest'
import { noise } from '../../../../test/signals'
import { compand, HEARING_RATE_HZ } from '../../../core/hearing'
import { restMemory } from '../../analysis/window-memory'
import { TrackCollector } from '../track-collector'
import { trackFrom } from './shared-memory'

describe('a track in shared memory', () => {
  it.each([20001, 20002])(
    'is read from memory that grew when %i frames came, and so is what is left of it',
    (frames) => {
      const collector = new TrackCollector()
      collector.push([noise(frames, 1, 0.4), noise(frames, 2, 0.4)], HEARING_RATE_HZ)
      const shared = collector.track()
      const whole = trackFrom(shared)
      expect(whole.frames).toBe(shared.frames)
      expect(Math.max(...whole.sideSamples(whole.frames - 100, whole.frames))).toBeGreaterThan(0.05)
      // What is left of the track is laid over the side, whose bytes can be odd in number.
      const mid = restMemory({ windows: [], patches: [], rest: null }, shared)
      expect(mid).toBe(shared.side)
      const left = noise(whole.frames, 3, 0.4)
      compand(left, new Int16Array(mid, 0, whole.frames), 0)
      const rest = trackFrom({ mid, side: null, frames: shared.frames })
      const samples = rest.midSamples(0, rest.frames)
      expect(Math.max(...samples.map((value, n) => Math.abs(value - (left[n] as number))))).toBeLessThan(1e-3)
    },
  )

  it('is not made of less than it says', () => {
    const memory = (bytes: number) => new SharedArrayBuffer(bytes)
    expect(() => trackFrom({ mid: memory(1998), side: null, frames: 1000 })).toThrow(RangeError)
    expect(() => trackFrom({ mid: memory(2000), side: memory(999), frames: 1000 })).toThrow(RangeError)
    expect(trackFrom({ mid: memory(2001), side: memory(1001), frames: 1000 }).midSamples(0, 1000)).toHaveLength(1000)
  })
})
