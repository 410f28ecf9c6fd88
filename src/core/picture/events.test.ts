import { describe, expect, it } from 'vitest'
import { type PictureEvent, pictureEvents } from './events'
import { FrameMeter, frameIndexAt, PICTURE_HEIGHT, PICTURE_WIDTH } from './frames'

const RATE = 25

/** Grey value of a pixel at a time. */
type Scene = (x: number, y: number, timeS: number) => number

/** Soft shapes that stand still. */
const hills: Scene = (x, y) => 90 + 40 * Math.sin(x / 21) * Math.cos(y / 17)
const field: Scene = (x, y) => 150 - y + 20 * Math.sin(x / 9)
/** A bright block that moves to the right from `fromS` to `toS` and then stands still. */
const moving =
  (fromS: number, toS: number): Scene =>
  (x, y, timeS) => {
    const left = 10 + 80 * (Math.max(0, Math.min(timeS, toS) - fromS) / (toS - fromS))
    return x >= left && x < left + 40 && y >= 20 && y < 70 ? 230 : hills(x, y, timeS)
  }
/** Letters, as stripes in a row near the foot. */
const lettered =
  (scene: Scene, share: (timeS: number) => number): Scene =>
  (x, y, timeS) => {
    const isInk = y >= 62 && y < 78 && x >= 20 && x < 110 && x % 5 < 2
    const below = scene(x, y, timeS)
    return isInk ? below + (245 - below) * share(timeS) : below
  }

function eventsOf(seconds: number, scene: Scene): PictureEvent[] {
  const meter = new FrameMeter()
  const grey = new Uint8Array(PICTURE_WIDTH * PICTURE_HEIGHT)
  for (let frame = 0; frame < seconds * RATE; frame++) {
    const timeS = frame / RATE
    for (let y = 0; y < PICTURE_HEIGHT; y++)
      for (let x = 0; x < PICTURE_WIDTH; x++) {
        // A little grain, as every picture has.
        const grain = ((x * 7919 + y * 104_729 + frame * 31) % 5) - 2
        grey[y * PICTURE_WIDTH + x] = Math.max(0, Math.min(255, Math.round(scene(x, y, timeS) + grain)))
      }
    meter.push(grey, timeS)
  }
  return pictureEvents(meter.result())
}

const kinds = (events: readonly PictureEvent[]): string[] =>
  events.map(({ kind, timeS }) => `${kind} ${timeS.toFixed(2)}`)

describe('what happens in a picture', () => {
  it('sees a cut at its frame, and nothing in what stands still', { tags: 'long' }, () => {
    expect(kinds(eventsOf(4, (x, y, t) => (t < 2 ? hills : field)(x, y, t)))).toEqual(['shot-change 2.00'])
    expect(eventsOf(3, hills)).toEqual([])
  })

  it('tells a flash from two cuts', () => {
    const flashing: Scene = (x, y, t) => (t >= 1.2 && t < 1.32 ? 245 : hills(x, y, t))
    expect(kinds(eventsOf(3, flashing))).toEqual(['flash 1.20'])
  })

  it('a picture that goes white and stays so is no flash', () => {
    const white: Scene = (x, y, t) => (t >= 1.2 ? 245 : hills(x, y, t))
    expect(eventsOf(3, white).map(({ kind }) => kind)).toEqual(['shot-change'])
  })

  it('sees what moves stand still, at its frame', () => {
    const events = eventsOf(4, moving(0.6, 2))
    expect(events.map(({ kind }) => kind)).toEqual(['stop'])
    expect(Math.abs((events[0]?.timeS ?? 0) - 2)).toBeLessThanOrEqual(1.5 / RATE)
  })

  it('what slows down gently does not stop at once', () => {
    const slowing: Scene = (x, y, t) => {
      const left = 10 + 80 * (1 - Math.exp(-t))
      return x >= left && x < left + 40 && y >= 20 && y < 70 ? 230 : hills(x, y, t)
    }
    expect(eventsOf(5, slowing).filter(({ kind }) => kind === 'stop')).toEqual([])
  })

  it('sees letters come and go, at once or faded', { tags: 'long' }, () => {
    const atOnce = lettered(hills, (t) => (t >= 1 && t < 3 ? 1 : 0))
    expect(kinds(eventsOf(5, atOnce))).toEqual(['title-in 1.00', 'title-out 3.00'])
    const faded = lettered(hills, (t) => Math.max(0, Math.min(1, (t - 1) / 0.3, (3.3 - t) / 0.3)))
    const events = eventsOf(5, faded)
    expect(events.map(({ kind }) => kind)).toEqual(['title-in', 'title-out'])
    expect(Math.abs((events[0]?.timeS ?? 0) - 1)).toBeLessThanOrEqual(2 / RATE)
  })

  it('letters that come with a cut are the cut', () => {
    const scene: Scene = (x, y, t) => (t < 2 ? hills(x, y, t) : lettered(field, () => 1)(x, y, t))
    expect(kinds(eventsOf(4, scene))).toEqual(['shot-change 2.00'])
  })

  it.each([0, 1, 2, 3])('a picture of %i frames is no error', (frames) => {
    expect(eventsOf(frames / RATE, hills)).toEqual([])
  })
})

describe('frames', () => {
  it('are found by time, also where they come unevenly', () => {
    const frames = { timesS: Float64Array.from([0, 0.1, 0.5, 0.52]), count: 4 }
    expect([-1, 0, 0.05, 0.1, 0.499, 0.51, 9].map((timeS) => frameIndexAt(frames, timeS))).toEqual([
      0, 0, 0, 1, 1, 2, 3,
    ])
  })

  it('are kept beyond the first few thousand', { tags: 'long' }, () => {
    const meter = new FrameMeter()
    const grey = new Uint8Array(PICTURE_WIDTH * PICTURE_HEIGHT)
    for (let frame = 0; frame < 5000; frame++) meter.push(grey.fill(frame % 2 ? 255 : 0), frame)
    const { count, luma, motion, timesS } = meter.result()
    expect([count, luma[0], luma[4999], motion[0], motion[4998], timesS[4999]]).toEqual([5000, 0, 1, 0, 1, 4999])
  })
})
