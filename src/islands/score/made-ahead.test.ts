import { describe, expect, it } from 'vitest'
import { MadeAhead } from './made-ahead'

function ramp(fromFrame: number, length: number): MadeAhead {
  const left = new Float32Array(length).map((_, n) => fromFrame + n)
  return new MadeAhead(
    fromFrame,
    left,
    left.map((value) => -value),
  )
}

describe('what was made ahead', () => {
  it('is given in order, each frame once, with as much as there is at the end', () => {
    const ahead = ramp(1000, 10)
    const [left, right] = [new Float32Array(4), new Float32Array(4)]
    const given: number[] = []
    for (let count = ahead.take(left, right); count > 0; count = ahead.take(left, right)) {
      given.push(...left.subarray(0, count))
      expect([...right.subarray(0, count)]).toEqual([...left.subarray(0, count)].map((value) => -value))
    }
    expect(given).toEqual(Array.from({ length: 10 }, (_, n) => 1000 + n))
    expect([ahead.nextFrame, ahead.endFrame]).toEqual([1010, 1010])
  })

  it('goes on at any frame that was made, before and after, and at no other', () => {
    const ahead = ramp(1000, 10)
    const [left, right] = [new Float32Array(2), new Float32Array(2)]
    expect(ahead.goTo(1007)).toBe(true)
    ahead.take(left, right)
    expect([...left]).toEqual([1007, 1008])
    expect(ahead.goTo(1000)).toBe(true)
    for (const frame of [999, 1010, -5]) {
      expect(ahead.goTo(frame)).toBe(false)
      expect(ahead.nextFrame).toBe(1000)
    }
  })
})
