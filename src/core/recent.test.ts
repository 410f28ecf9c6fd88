import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Recent } from './recent'

describe('what was made last', () => {
  it('is not made again while there is room for it, and what was not asked for longest goes first', () => {
    const made: string[] = []
    const recent = new Recent<string, string>(3, () => 1)
    const get = (key: string): string =>
      recent.get(key, () => {
        made.push(key)
        return key.toUpperCase()
      })
    for (const key of ['a', 'b', 'c', 'a', 'd']) expect(get(key)).toBe(key.toUpperCase())
    expect(made).toEqual(['a', 'b', 'c', 'd'])
    // "b" gave way, as "a" was asked for after it.
    get('a')
    get('c')
    expect(made).toHaveLength(4)
    get('b')
    expect(made).toEqual(['a', 'b', 'c', 'd', 'b'])
  })

  it('is held alone where it is too large, and nothing that failed is held', () => {
    const recent = new Recent<number, number>(10, (value) => value)
    expect(recent.get(1, () => 4)).toBe(4)
    expect(recent.get(2, () => 50)).toBe(50)
    expect(recent.get(2, () => 51)).toBe(50)
    expect(recent.get(1, () => 5)).toBe(5)
    expect(() =>
      recent.get(3, () => {
        throw new Error('cannot be made')
      }),
    ).toThrow('cannot be made')
    expect(recent.get(3, () => 3)).toBe(3)
    expect(recent.get(1, () => 6)).toBe(5)
  })

  it('is held for as long as it fits together with all that was asked for since, and no longer', () => {
    const sizeOf = (key: number): number => (7 * key) % 13
    fc.assert(
      fc.property(fc.array(fc.nat(8), { maxLength: 60 }), (keys) => {
        const recent = new Recent<number, number>(20, sizeOf)
        keys.forEach((key, at) => {
          let isMade = false
          recent.get(key, () => {
            isMade = true
            return key
          })
          const before = keys.lastIndexOf(key, at - 1)
          const since = new Set(keys.slice(before, at))
          const sum = [...since].reduce((all, one) => all + sizeOf(one), 0)
          const isHeld = at > 0 && before >= 0 && (since.size === 1 || sum <= 20)
          expect(isMade).toBe(!isHeld)
        })
      }),
    )
  })
})
