import { describe, expect, it } from 'vitest'
import { clipLoudness } from '../audio'
import { newPlacement, type Placement } from '../score'
import { memorySource } from './pcm'
import { placedLoudness } from './placed-loudness'

const RATE_HZ = 48_000
/** Five seconds: loud in the first two, soft in the rest. */
const samples = Float32Array.from(
  { length: 5 * RATE_HZ },
  (_, n) => (n < 2 * RATE_HZ ? 0.5 : 0.05) * Math.sin((2 * Math.PI * 997 * n) / RATE_HZ),
)
const source = memorySource([samples, samples], RATE_HZ)
const placed = (values: Partial<Placement>): Placement =>
  newPlacement('p', { layerId: 'gone', audio: { kind: 'preview', soundId: 1 }, startS: 70, toS: 5 }, values)
const partLufs = (fromS: number, toS: number): number => {
  const part = samples.slice(fromS * RATE_HZ, toS * RATE_HZ)
  return clipLoudness([part, part], RATE_HZ).integratedLufs as number
}

describe('the loudness of a placed sound', () => {
  it('is that of the part that is heard, at 0 dB wherever and however loud it is placed', () => {
    expect(placedLoudness(placed({}), source, RATE_HZ)).toBeCloseTo(partLufs(0, 5), 1)
    const soft = placed({ fromS: 3, gainDb: -30, isMuted: true })
    expect(placedLoudness(soft, source, RATE_HZ)).toBeCloseTo(partLufs(3, 5), 1)
    expect(partLufs(0, 5) - partLufs(3, 5)).toBeGreaterThan(15)
  })

  it('counts what is done to it', () => {
    const plain = placedLoudness(placed({ toS: 2 }), source, RATE_HZ) as number
    const line = [
      { atS: 0, value: -12 },
      { atS: 2, value: -12 },
    ]
    expect(placedLoudness(placed({ toS: 2, gainPoints: line }), source, RATE_HZ)).toBeCloseTo(plain - 12, 1)
    const muffled = placed({ toS: 2, treatments: [{ kind: 'wall', amountFraction: 1 }] })
    expect(placedLoudness(muffled, source, RATE_HZ)).toBeLessThan(plain - 3)
  })

  it('of a click is measured too, lower the shorter it is', () => {
    const of = (toS: number) => placedLoudness(placed({ toS }), source, RATE_HZ) as number
    expect(of(0.2) - of(0.05)).toBeCloseTo(6, 0)
    expect(of(0.2)).toBeLessThan(of(0.4))
  })

  it('of silence is none', () => {
    expect(placedLoudness(placed({ toS: 1 }), memorySource([new Float32Array(RATE_HZ)], RATE_HZ), RATE_HZ)).toBeNull()
  })
})
