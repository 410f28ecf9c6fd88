import { describe, expect, it } from 'vitest'
import { frameInto } from './frame-into'

const SOUND = Float32Array.from([1, 2, 3, 4, 5])

describe('a part of a sound', () => {
  it.each([
    ['within it', 1, [2, 3, 4, 5]],
    ['from before its start', -2, [0, 0, 1, 2]],
    ['to behind its end', 3, [4, 5, 0, 0]],
    ['before it as a whole', -4, [0, 0, 0, 0]],
    ['far before it', -100, [0, 0, 0, 0]],
    ['behind it as a whole', 5, [0, 0, 0, 0]],
    ['far behind it', 100, [0, 0, 0, 0]],
  ])('%s', (_where, start, expected) => {
    const into = new Float32Array(4).fill(9)
    frameInto(into, SOUND, start)
    expect([...into]).toEqual(expected)
  })

  it('of a sound shorter than what is wanted leaves nothing of what stood there', () => {
    const into = new Float32Array(4).fill(9)
    frameInto(into, Float32Array.from([6]), -1)
    expect([...into]).toEqual([0, 6, 0, 0])
  })
})
