import { describe, expect, it } from 'vitest'
import { matchCuts } from './match'
import { SKETCH_RATE_HZ, type TrackSketch, trackSketch } from './sketch'

/** A track that is different everywhere: noise with bursts at times drawn from a seed. */
function material(seconds: number, seed: number): Float32Array {
  let state = seed
  const chance = (): number => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0
    return state / 2 ** 32
  }
  const out = new Float32Array(seconds * SKETCH_RATE_HZ)
  for (let at = 0; at < out.length; ) {
    const length = Math.round((0.05 + 0.3 * chance()) * SKETCH_RATE_HZ)
    const level = 0.02 + 0.4 * chance() ** 2
    const hz = 150 + 4000 * chance() ** 2
    const grain = chance()
    for (let i = 0; i < length && at + i < out.length; i++) {
      const decay = Math.exp((-4 * i) / length)
      out[at + i] =
        level * decay * ((1 - grain) * Math.sin((2 * Math.PI * hz * i) / SKETCH_RATE_HZ) + grain * (2 * chance() - 1))
    }
    at += length
  }
  return out
}

function sketchOf(samples: Float32Array): TrackSketch {
  return trackSketch((from, length) => {
    const block = new Float32Array(length)
    for (let i = 0; i < length; i++) block[i] = samples[from + i] ?? 0
    return block
  }, samples.length)
}

const at = (seconds: number): number => Math.round(seconds * SKETCH_RATE_HZ)
function joined(...parts: Float32Array[]): Float32Array {
  const out = new Float32Array(parts.reduce((sum, part) => sum + part.length, 0))
  let end = 0
  for (const part of parts) {
    out.set(part, end)
    end += part.length
  }
  return out
}

const OLD = material(60, 7)
const FRAME_S = 1 / 25

describe('where the parts of a cut are in a newer one', () => {
  it('an unchanged cut stays where it is', () => {
    const sections = matchCuts(sketchOf(OLD), sketchOf(OLD))
    expect(sections).toHaveLength(1)
    expect(sections[0]?.shiftS).toBeCloseTo(0, 3)
    expect(sections[0]?.endS).toBeCloseTo(60, 1)
  })

  it('a part that was taken out and one that was put in are found to within a frame', { tags: 'long' }, () => {
    // 12.34 s to 17.9 s are gone, 3.21 s are new behind 40 s.
    const next = joined(OLD.slice(0, at(12.34)), OLD.slice(at(17.9), at(40)), material(3.21, 99), OLD.slice(at(40)))
    const sections = matchCuts(sketchOf(OLD), sketchOf(next))
    expect(sections.map(({ shiftS }) => shiftS === null)).toEqual([false, true, false, false])
    const [a, gone, b, c] = sections as [
      (typeof sections)[0],
      (typeof sections)[0],
      (typeof sections)[0],
      (typeof sections)[0],
    ]
    expect(Math.abs(a.shiftS ?? 9)).toBeLessThan(FRAME_S / 4)
    expect(Math.abs(gone.startS - 12.34)).toBeLessThan(FRAME_S)
    expect(Math.abs(gone.endS - 17.9)).toBeLessThan(FRAME_S)
    expect(Math.abs((b.shiftS ?? 9) + 5.56)).toBeLessThan(FRAME_S / 4)
    expect(Math.abs(c.startS - 40)).toBeLessThan(FRAME_S)
    expect(Math.abs((c.shiftS ?? 9) + 2.35)).toBeLessThan(FRAME_S / 4)
  })

  it('two parts that changed places are followed', () => {
    const next = joined(OLD.slice(at(30)), OLD.slice(0, at(30)))
    const sections = matchCuts(sketchOf(OLD), sketchOf(next))
    expect(sections.map(({ shiftS }) => Math.round(shiftS ?? 999))).toEqual([30, -30])
    expect(Math.abs((sections[1]?.startS ?? 0) - 30)).toBeLessThan(FRAME_S)
  })

  it('a mix at another level with music below it is still the same cut', { tags: 'long' }, () => {
    const music = material(60, 3)
    const next = OLD.slice(at(5)).map((value, i) => 0.4 * value + 0.15 * (music[i] as number))
    const sections = matchCuts(sketchOf(OLD), sketchOf(next))
    const last = sections[sections.length - 1]
    expect(Math.abs((last?.shiftS ?? 9) + 5)).toBeLessThan(FRAME_S)
    expect(sections[0]?.shiftS).toBeNull()
  })

  it('another film has nothing of it', { tags: 'long' }, () => {
    const sections = matchCuts(sketchOf(OLD), sketchOf(material(60, 1234)))
    const goneS = sections
      .filter(({ shiftS }) => shiftS === null)
      .reduce((sum, { startS, endS }) => sum + endS - startS, 0)
    expect(goneS).toBeGreaterThan(55)
  })

  it('silence tells nothing, and what lies around it does', () => {
    const quiet = OLD.slice()
    quiet.fill(0, at(20), at(26))
    const next = joined(material(2, 55), quiet)
    const sections = matchCuts(sketchOf(quiet), sketchOf(next))
    expect(sections).toHaveLength(1)
    expect(sections[0]?.shiftS).toBeCloseTo(2, 2)
    const silent = sketchOf(new Float32Array(at(10)))
    expect(matchCuts(silent, silent)).toEqual([{ startS: 0, endS: 10, shiftS: 0, score: null }])
  })

  it.each([0, 0.004, 0.3, 1.49])('a cut of %s s is no error', (seconds) => {
    const short = sketchOf(OLD.slice(0, at(seconds)))
    const sections = matchCuts(short, sketchOf(OLD))
    expect(sections[0]?.startS).toBe(0)
    expect(sections.every(({ startS, endS }) => endS >= startS)).toBe(true)
  })
})
