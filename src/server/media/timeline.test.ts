import { describe, expect, it } from 'vitest'
import { MediaError } from './decoder'
import { SoundTimeline } from './timeline'

const RATE_HZ = 1000

/** A timeline that gathers what it hands on. */
function gathering(durationS: number | null = null) {
  const blocks: Float32Array[][] = []
  const timeline = new SoundTimeline(
    { onBlock: (channels) => blocks.push(channels.map((channel) => channel.slice())) },
    durationS,
  )
  const first = (): number[] => blocks.flatMap(([channel]) => [...(channel as Float32Array)])
  return { timeline, first, blocks }
}

function ramp(from: number, count: number): Float32Array {
  return new Float32Array(count).map((_, i) => from + i)
}

describe('SoundTimeline', () => {
  it('drops what lies before 0', () => {
    const { timeline, first } = gathering()
    timeline.place(-0.003, [ramp(0, 6)], RATE_HZ)
    expect(first()).toEqual([3, 4, 5])
  })

  it('fills a long gap piece by piece, never in one block', () => {
    const { timeline, blocks } = gathering()
    timeline.place(0, [ramp(1, 3)], RATE_HZ)
    timeline.place(599, [ramp(7, 1)], RATE_HZ)
    expect(timeline.lengthS).toBeCloseTo(599.001, 6)
    expect(Math.max(...blocks.map(([channel]) => (channel as Float32Array).length))).toBeLessThanOrEqual(48_000)
    expect(timeline.missing(null)).toEqual([{ startS: 0.003, endS: 599 }])
  })

  it('takes a gap of more than ten minutes for damage, and goes on with what comes at its right time', () => {
    const { timeline, first } = gathering()
    timeline.place(0, [ramp(1, 3)], RATE_HZ)
    expect(() => timeline.place(7200, [ramp(7, 1)], RATE_HZ)).toThrow(
      expect.objectContaining({ name: 'MediaError', code: 'bad-times' }),
    )
    timeline.place(0.003, [ramp(4, 2)], RATE_HZ)
    expect(first()).toEqual([1, 2, 3, 4, 5])
  })

  it('fills a gap with silence, and takes a small one for rounding', () => {
    const { timeline, first } = gathering()
    timeline.place(0, [ramp(1, 3)], RATE_HZ)
    timeline.place(0.004, [ramp(4, 2)], RATE_HZ)
    expect(first()).toEqual([1, 2, 3, 4, 5])
    timeline.place(0.035, [ramp(9, 1)], RATE_HZ)
    expect(first().length).toBe(36)
    expect(
      first()
        .slice(5, 35)
        .every((value) => value === 0),
    ).toBe(true)
    expect(first()[35]).toBe(9)
  })

  it('begins with silence when the sound begins late', () => {
    const { timeline, first } = gathering()
    timeline.place(0.002, [ramp(7, 1)], RATE_HZ)
    expect(first()).toEqual([0, 0, 7])
  })

  it('places a block by its end', () => {
    const { timeline, first } = gathering()
    timeline.placeEndingAt(0.005, [ramp(1, 3)], RATE_HZ)
    expect(first()).toEqual([0, 0, 1, 2, 3])
  })

  it('cuts what lies beyond the stated length', () => {
    const { timeline, first } = gathering(0.004)
    timeline.append([ramp(1, 9)], RATE_HZ)
    timeline.append([ramp(1, 9)], RATE_HZ)
    expect(first()).toEqual([1, 2, 3, 4])
    expect(timeline.end()).toEqual({ sampleRateHz: RATE_HZ, channelCount: 1, durationS: 0.004 })
  })

  it('says which gap no packet filled, and what lacks of the stated length', () => {
    const { timeline } = gathering()
    timeline.place(0.1, [ramp(1, 400)], RATE_HZ)
    timeline.place(1.5, [ramp(1, 300)], RATE_HZ)
    timeline.place(2.2, [ramp(1, 100)], RATE_HZ)
    expect(timeline.missing(null)).toEqual([{ startS: 0.5, endS: 1.5 }])
    expect(timeline.missing(4)).toEqual([
      { startS: 0.5, endS: 1.5 },
      { startS: 2.3, endS: 4 },
    ])
    expect(timeline.missing(2.8)).toHaveLength(1)
  })

  it('keeps to the number of channels that it began with', () => {
    const { timeline, blocks } = gathering()
    timeline.append([ramp(1, 1), ramp(3, 1)], RATE_HZ)
    timeline.append([ramp(5, 1)], RATE_HZ)
    expect(blocks[1]?.map((channel) => channel[0])).toEqual([5, 5])
  })

  it('silences what is no number', () => {
    const { timeline, first } = gathering()
    timeline.append([Float32Array.of(1, Number.NaN, Number.POSITIVE_INFINITY, 2)], RATE_HZ)
    expect(first()).toEqual([1, 0, 0, 2])
  })

  it('has no end while nothing came', () => {
    const { timeline } = gathering()
    timeline.append([], RATE_HZ)
    timeline.append([new Float32Array(0)], RATE_HZ)
    expect(timeline.isEmpty).toBe(true)
    expect(timeline.end()).toBeNull()
  })

  it('refuses a track without end', () => {
    const { timeline } = gathering()
    expect(() => timeline.append([new Float32Array(5 * 3600 * RATE_HZ)], RATE_HZ)).toThrow(MediaError)
  })
})
