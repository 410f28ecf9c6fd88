import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { RemoteStrip } from './strip'

/** A strip whose pictures come when the test says so. */
function stripOf(count: number) {
  const asked: number[] = []
  const open = new Map<number, { come(): void; fail(): void }>()
  const strip = new RemoteStrip(
    Array.from({ length: count }, (_, at) => at),
    (index) => {
      asked.push(index)
      return new Promise((resolve, reject) =>
        open.set(index, { come: () => resolve({ index } as never), fail: () => reject(new Error('not reachable')) }),
      )
    },
  )
  let told = 0
  strip.subscribe(() => told++)
  const end = async (index: number, how: 'come' | 'fail'): Promise<void> => {
    open.get(index)?.[how]()
    await Promise.resolve()
    await Promise.resolve()
  }
  return { strip, asked, end, told: () => told }
}

beforeEach(() => void vi.useFakeTimers())
afterEach(() => void vi.useRealTimers())
/** The map stands still. */
const rest = (): void => void vi.advanceTimersByTime(200)

describe('the small pictures of a map', () => {
  it('are fetched when they are looked at, each once, and told of when they are here', async () => {
    const { strip, asked, end, told } = stripOf(10)
    expect(asked).toEqual([])
    expect([strip.image(3), strip.image(3)]).toEqual([null, null])
    expect(asked).toEqual([])
    rest()
    expect(asked).toEqual([3])
    await end(3, 'come')
    expect(told()).toBe(1)
    expect(strip.image(3)).toEqual({ index: 3 })
    expect(asked).toEqual([3])
  })

  it('come six at a time, those looked at last before those that have gone out of view', async () => {
    const { strip, asked, end } = stripOf(3000)
    for (let index = 0; index < 200; index++) strip.image(index)
    rest()
    expect(asked).toEqual([199, 198, 197, 196, 195, 194])
    // Looked at again, it is the next.
    strip.image(160)
    await end(199, 'come')
    expect(asked.at(-1)).toBe(160)
    await end(160, 'come')
    expect(asked.at(-1)).toBe(193)
    // All come: those of long ago were given up, and are asked for when they are looked at again.
    for (let at = 0; at < asked.length; at++) await end(asked[at] as number, 'come')
    expect(asked).not.toContain(100)
    strip.image(100)
    rest()
    expect(asked).toContain(100)
  })

  it('are not fetched while the map is on the move, and another one near by stands in', async () => {
    const { strip, asked, end } = stripOf(1000)
    strip.image(500)
    rest()
    await end(500, 'come')
    for (let index = 501; index < 540; index++) {
      expect(strip.image(index)).toEqual({ index: 500 })
      vi.advanceTimersByTime(16)
    }
    expect(asked).toEqual([500])
    rest()
    expect(asked.slice(1)).toEqual([539, 538, 537, 536, 535, 534])
    // One that is far from all that are here has none.
    expect(strip.image(900)).toBeNull()
  })

  it('are asked for again after they could not be had, and never hold up the others', async () => {
    const { strip, asked, end, told } = stripOf(20)
    for (let index = 0; index < 8; index++) strip.image(index)
    rest()
    for (let index = 7; index > 1; index--) await end(index, 'fail')
    expect(asked).toEqual([7, 6, 5, 4, 3, 2, 1, 0])
    expect(told()).toBe(0)
    expect(strip.image(7)).toBeNull()
    rest()
    expect(asked.at(-1)).toBe(7)
  })

  it('are not all held: of thousands the oldest go', async () => {
    const { strip, asked, end } = stripOf(1000)
    for (let index = 0; index < 700; index++) {
      strip.image(index)
      rest()
      await end(index, 'come')
    }
    expect(strip.image(699)).toEqual({ index: 699 })
    strip.image(50)
    rest()
    expect(asked.filter((one) => one === 50)).toHaveLength(2)
  })
})
