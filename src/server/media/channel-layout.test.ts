import { describe, expect, it } from 'vitest'
import { channelLayout, foldedDown, layoutName } from './channel-layout'

const ROOT = Math.SQRT1_2

/** Left and right of a track in which only one channel holds anything. */
function onlyIn(index: number, channelCount: number, order: 'wave' | 'vorbis' | 'aac'): [number, number] {
  const channels = Array.from({ length: channelCount }, (_, at) => Float32Array.of(at === index ? 1 : 0))
  const [left, right] = foldedDown(channels, channelLayout(order, channelCount)) as [Float32Array, Float32Array]
  return [left[0] as number, right[0] as number]
}

describe('foldedDown', () => {
  it.each([
    ['left', 0, 1, 0],
    ['right', 1, 0, 1],
    ['centre', 2, ROOT, ROOT],
    ['low frequencies', 3, ROOT, ROOT],
    ['left rear', 4, ROOT, 0],
    ['right rear', 5, 0, ROOT],
    ['left side', 6, ROOT, 0],
    ['right side', 7, 0, ROOT],
  ] as const)('takes the %s of 7.1 along', (_name, index, left, right) => {
    const folded = onlyIn(index, 8, 'wave')
    expect(folded[0]).toBeCloseTo(left, 6)
    expect(folded[1]).toBeCloseTo(right, 6)
  })

  it.each(['wave', 'vorbis', 'aac'] as const)('loses no channel, in the order of %s', (order) => {
    for (let count = 3; count <= 8; count++)
      for (let index = 0; index < count; index++) {
        const [left, right] = onlyIn(index, count, order)
        expect(left + right, `${index} of ${count}`).toBeGreaterThan(0.7)
      }
  })

  it('has the centre second in the order of Vorbis, and the low frequencies last', () => {
    expect(onlyIn(1, 6, 'vorbis')[0]).toBeCloseTo(ROOT, 6)
    expect(onlyIn(1, 6, 'vorbis')[1]).toBeCloseTo(ROOT, 6)
    expect(onlyIn(2, 6, 'vorbis')).toEqual([0, 1])
    expect(onlyIn(5, 6, 'vorbis')[1]).toBeCloseTo(ROOT, 6)
  })

  it('puts every channel of an unknown order on both sides, at the power of one', () => {
    const channels = Array.from({ length: 10 }, () => Float32Array.of(0.1))
    const [left, right] = foldedDown(channels, null) as [Float32Array, Float32Array]
    expect(left[0]).toBeCloseTo(1 / Math.sqrt(10), 6)
    expect(right[0]).toBe(left[0])
  })

  it('leaves one and two channels alone', () => {
    const mono = [Float32Array.of(0.3)]
    expect(foldedDown(mono, channelLayout('wave', 1))).toBe(mono)
    const stereo = [Float32Array.of(0.3), Float32Array.of(0.2)]
    expect(foldedDown(stereo, null)).toBe(stereo)
  })

  it('does not change what it is given', () => {
    const channels = Array.from({ length: 6 }, () => Float32Array.of(0.5))
    foldedDown(channels, channelLayout('wave', 6))
    expect(channels.every((channel) => channel[0] === 0.5)).toBe(true)
  })
})

describe('layoutName', () => {
  it.each([
    [1, 'mono'],
    [2, 'stereo'],
    [6, '5.1'],
    [8, '7.1'],
    [5, '5 channels'],
  ])('%i channels: %s', (count, name) => {
    expect(layoutName(count)).toBe(name)
  })
})
