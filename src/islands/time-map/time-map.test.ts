import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { PEAK_FRAMES, PeakMeter } from '../../core/audio/peaks'
import { labelRoomPx, type MapMark, placedMarks } from './lanes'
import { LocalPeaks, RemotePeaks } from './peaks'
import { MIN_SPAN_S, pannedBy, scaleOf, snapped, ticksOf, viewWith, wholeView, zoomedAt } from './view'

const mark = (id: string, startS: number, endS: number | null = null, label = id): MapMark => ({
  id,
  startS,
  endS,
  label,
})
const WIDTH = 1000

describe('the view of a map', () => {
  it('zooms around the pointer down to single samples and back to the whole, and never leaves the track', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.5, max: 7200, noNaN: true }),
        fc.array(fc.tuple(fc.double({ min: 0.01, max: 30, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true })), {
          maxLength: 30,
        }),
        (durationS, steps) => {
          let view = wholeView(durationS)
          for (const [factor, share] of steps) {
            const aroundS = view.startS + share * (view.endS - view.startS)
            const before = scaleOf(view, WIDTH).x(aroundS)
            const next = zoomedAt(view, factor, aroundS, durationS)
            const isClamped = next.startS === 0 || next.endS >= durationS - 1e-9
            if (!isClamped) expect(scaleOf(next, WIDTH).x(aroundS)).toBeCloseTo(before, 3)
            view = next
            expect(view.startS).toBeGreaterThanOrEqual(0)
            expect(view.endS).toBeLessThanOrEqual(durationS + 1e-9)
            expect(view.endS - view.startS).toBeGreaterThanOrEqual(MIN_SPAN_S * 0.999)
          }
        },
      ),
    )
  })

  it('stops at the ends when it is panned', () => {
    const view = { startS: 10, endS: 20 }
    expect(pannedBy(view, -50, 100)).toEqual({ startS: 0, endS: 10 })
    expect(pannedBy(view, 500, 100)).toEqual({ startS: 90, endS: 100 })
  })

  it('follows a time that leaves it, and stays the same object while it does not', () => {
    const view = { startS: 10, endS: 20 }
    expect(viewWith(view, 15, 100)).toBe(view)
    expect(viewWith(view, 19.9, 100).startS).toBeCloseTo(18.9, 6)
    const end = { startS: 90, endS: 100 }
    expect(viewWith(end, 99.9, 100)).toBe(end)
  })

  it('has ticks with timecode, by frames when it is close, and none without room', () => {
    const PAL = { rate: { num: 25, den: 1 }, drop: false }
    expect(
      ticksOf({ startS: 0, endS: 60 }, WIDTH, PAL)
        .map(({ label }) => label)
        .slice(0, 3),
    ).toEqual(['00:00', '00:10', '00:20'])
    const close = ticksOf({ startS: 5, endS: 5.2 }, WIDTH, PAL)
    expect(close.map(({ label }) => label)).toContain('00:05:01')
    for (const view of [
      { startS: 0, endS: 0.01 },
      { startS: 3000, endS: 7200 },
      { startS: 0, endS: 44 },
    ]) {
      const ticks = ticksOf(view, WIDTH, PAL)
      const { pxPerS } = scaleOf(view, WIDTH)
      for (const [index, tick] of ticks.slice(1).entries())
        expect((tick.timeS - (ticks[index]?.timeS ?? 0)) * pxPerS).toBeGreaterThan(85)
    }
    const hours = ticksOf({ startS: 3600, endS: 7200 }, WIDTH, PAL)
    expect(hours[0]?.label).toBe('01:00:00')
  })

  it('snaps to what is near, and to nothing that is not', () => {
    expect(snapped(5.03, [4, 5, 6], 0.05)).toBe(5)
    expect(snapped(5.3, [4, 5, 6], 0.05)).toBe(5.3)
  })
})

describe('marks on a map', () => {
  it('never lie over each other with their labels, and the chosen one keeps its label', () => {
    const marks = fc
      .array(fc.tuple(fc.double({ min: 0, max: 100, noNaN: true }), fc.double({ min: 0, max: 9, noNaN: true })), {
        minLength: 1,
        maxLength: 60,
      })
      .map((all) =>
        all.map(([startS, lengthS], at) => mark(`m${at}`, startS, startS + lengthS, 'x'.repeat(3 + (at % 20)))),
      )
      .map((all) => all.sort((a, b) => a.startS - b.startS))
    fc.assert(
      fc.property(marks, fc.integer({ min: 1, max: 6 }), fc.nat(59), (all, lanesMax, chosen) => {
        const chosenId = all[chosen % all.length]?.id ?? null
        const placed = placedMarks(all, { startS: 0, endS: 110 }, WIDTH, { lanesMax, chosenId })
        expect(placed).toHaveLength(all.length)
        const labels = placed.flatMap(({ mark: one, lane, labelPx }) =>
          labelPx === null ? [] : [{ id: one.id, lane, from: labelPx, to: labelPx + labelRoomPx(one.label) }],
        )
        for (const [index, a] of labels.entries()) {
          expect(a.to).toBeLessThanOrEqual(WIDTH + 0.01)
          for (const b of labels.slice(index + 1))
            expect(a.lane !== b.lane || a.to <= b.from || b.to <= a.from, `${a.id} and ${b.id}`).toBe(true)
        }
        expect(labels.some(({ id }) => id === chosenId)).toBe(true)
      }),
    )
  })

  it('out of view are not there', () => {
    const placed = placedMarks([mark('a', 1, 2), mark('b', 5, 8), mark('c', 12)], { startS: 6, endS: 10 }, WIDTH, {
      lanesMax: 3,
    })
    expect(placed.map(({ mark: { id } }) => id)).toEqual(['b'])
  })
})

describe('a waveform that is fetched in pieces', () => {
  const samples = Float32Array.from(
    { length: 48_000 * 20 },
    (_, i) => Math.sin(i / 50) * (i % 96_000 < 48_000 ? 0.9 : 0.1),
  )
  const meter = new PeakMeter()
  meter.push([samples])
  const peaks = meter.result(48_000)
  const info = {
    sampleRateHz: 48_000,
    lengthFrames: samples.length,
    levels: peaks.levels.map((level) => level.length / 2),
  }
  const pairs = async (level: number, from: number, count: number): Promise<ArrayBuffer> =>
    (peaks.levels[level] as Int8Array).slice(2 * from, 2 * (from + count)).buffer as ArrayBuffer

  it('comes to what it is, column by column, at every zoom', async () => {
    const remote = new RemotePeaks(info, pairs, async () => new ArrayBuffer(0))
    for (const [startS, endS] of [
      [0, 20],
      [3, 4],
      [9.9, 10.3],
    ] as const) {
      // The first look asks for what is wanted; until it is here, nothing or something coarser is given.
      if (startS === 0) expect(remote.columns(startS, endS, 200)).toBeNull()
      else remote.columns(startS, endS, 200)
      await new Promise((resolve) => setTimeout(resolve, 0))
      const columns = remote.columns(startS, endS, 200) as Float32Array
      for (const column of [3, 57, 140, 199]) {
        const from = Math.round((startS + (column * (endS - startS)) / 200) * 48_000)
        const part = samples.slice(from, from + Math.round(((endS - startS) / 200) * 48_000))
        // Pairs at the edges of a column reach a little over it.
        expect(columns[2 * column + 1]).toBeGreaterThanOrEqual(Math.max(...part) - 0.02)
        expect(columns[2 * column]).toBeLessThanOrEqual(Math.min(...part) + 0.02)
      }
    }
  })

  it('is asked for once, and again after it could not be had', async () => {
    let asked = 0
    const failing = new RemotePeaks(
      info,
      async (...args) => {
        asked++
        if (asked === 1) throw new Error('the server is away')
        return pairs(...args)
      },
      async () => new ArrayBuffer(0),
    )
    const level = info.levels.length - 1
    expect(info.levels[level]).toBeLessThan(4096)
    failing.columns(0, 20, 100)
    failing.columns(0, 20, 100)
    expect(asked).toBe(1)
    await new Promise((resolve) => setTimeout(resolve, 0))
    failing.columns(0, 20, 100)
    await new Promise((resolve) => setTimeout(resolve, 0))
    expect(asked).toBe(2)
    expect(failing.columns(0, 20, 100)).not.toBeNull()
  })

  it('gives single samples only where they are seen', async () => {
    const remote = new RemotePeaks(
      info,
      pairs,
      async (startS, endS) => samples.slice(startS * 48_000, endS * 48_000).buffer,
    )
    expect(remote.samples(0, 20, 1000)).toBeNull()
    expect(remote.samples(5.2, 5.21, 1000)).toBeNull()
    await new Promise((resolve) => setTimeout(resolve, 0))
    const direct = remote.samples(5.2, 5.21, 1000)
    const at = Math.round((5.2 - (direct?.firstS ?? 0)) * 48_000)
    expect(direct?.values[at]).toBeCloseTo(samples[Math.round(5.2 * 48_000)] ?? 9, 6)
  })

  it('behind its end has nothing, and no pair stands for more than it should', () => {
    const local = new LocalPeaks(Int8Array.of(-10, 20, -30, 40), 1)
    const columns = local.columns(0, 4, 4) as Float32Array
    expect([...columns].map((value) => Number(value.toFixed(2)))).toEqual([-0.25, 0.5, -0.75, 1, 0, 0, 0, 0])
    expect(PEAK_FRAMES).toBe(64)
  })
})
