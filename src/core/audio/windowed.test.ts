import { describe, expect, it } from 'vitest'
import { windowedInto } from './windowed'

const SOUND = Float32Array.from([1, 2, 3, 4, 5])
const WINDOW = Float32Array.from([0.5, 1, 2, 1])

describe('a part of a sound under a window', () => {
  it.each([
    ['within it', 1, [1, 3, 8, 5]],
    ['from before its start', -2, [0, 0, 2, 2]],
    ['to behind its end', 3, [2, 5, 0, 0]],
    ['before it as a whole', -4, [0, 0, 0, 0]],
    ['far before it', -100, [0, 0, 0, 0]],
    ['behind it as a whole', 5, [0, 0, 0, 0]],
    ['far behind it', 100, [0, 0, 0, 0]],
  ])('%s', (_where, start, expected) => {
    const into = new Float32Array(4).fill(9)
    windowedInto(into, SOUND, start, WINDOW)
    expect([...into]).toEqual(expected)
  })

  it('of a sound shorter than the window leaves nothing of what stood there', () => {
    const into = new Float32Array(4).fill(9)
    windowedInto(into, Float32Array.from([6]), -1, WINDOW)
    expect([...into]).toEqual([0, 6, 0, 0])
  })
})
