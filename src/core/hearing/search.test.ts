import { describe, expect, it } from 'vitest'
import { addAt, bed, effect, noise, rms } from '../../../test/signals'
import { PRIOR_FALSE_POSITIVE_RATE, scoreThreshold } from './confidence'
import { HEARING_RATE_HZ } from './constants'
import { preparedWindow, trackWindows } from './correlate'
import { type Detection, finalDetections } from './detections'
import { searchPlan } from './plan'
import { type PreparedSound, preparedSound } from './prepare'
import { Searcher } from './search'
import { type Track, trackOf } from './track'

const RATE_HZ = HEARING_RATE_HZ

/** Effects of 0.3 to 2.5 s, all different. */
const EFFECTS = [0.3, 0.5, 0.8, 1.2, 1.8, 2.5].map((durationS, index) =>
  effect({
    length: Math.round(durationS * RATE_HZ),
    rateHz: RATE_HZ,
    seed: 40 + index,
    frequencyHz: 300 + 240 * index,
  }),
)
const SOUNDS = EFFECTS.map((samples) => preparedSound(samples))

function makeBed(durationS: number, seed: number): Float32Array {
  return bed({ length: durationS * RATE_HZ, rateHz: RATE_HZ, seed })
}

/** Lays an effect so that it stands `ratioDb` against the bed under it. Returns its gain, linear. */
function lay(track: Float32Array, samples: Float32Array, at: number, ratioDb: number): number {
  const gain = ((rms(track, at, at + samples.length) || 1) * 10 ** (ratioDb / 20)) / rms(samples)
  addAt(track, samples, at, gain)
  return gain
}

const searcher = new Searcher()

/** Searches and settles as a check does, the sounds as those of a catalogue. */
function heard(
  samples: Float32Array | Track,
  sounds: readonly (PreparedSound | null)[] = SOUNDS,
  groups: readonly (readonly number[])[] = [],
  thorough = false,
): Detection[] {
  const track = samples instanceof Float32Array ? trackOf(samples) : samples
  const durationS = track.frames / RATE_HZ
  const soundCount = sounds.length
  const windows = trackWindows(track.frames).map((range) => preparedWindow(track, range, searcher.correlator.kernel))
  const raw = searcher.search(track, windows, sounds, searchPlan(scoreThreshold({ soundCount, durationS }), thorough))
  return finalDetections(raw, sounds, { durationS, soundCount, chance: PRIOR_FALSE_POSITIVE_RATE, groups })
}

/** Beeps of one pitch with two overtones, each with a soft edge. */
function beeps(pitchHz: number, startsS: readonly number[], eachS: number, lengthS: number): Float32Array {
  const samples = new Float32Array(lengthS * RATE_HZ)
  const edge = 0.01 * RATE_HZ
  for (const startS of startsS) {
    const length = Math.round(eachS * RATE_HZ)
    const beep = new Float32Array(length).map((_, n) => {
      const phase = (2 * Math.PI * pitchHz * n) / RATE_HZ
      const tones = Math.sin(phase) + 0.15 * Math.sin(3 * phase) + 0.04 * Math.sin(5 * phase)
      return 0.5 * Math.min(1, n / edge, (length - n) / edge) * tones
    })
    addAt(samples, beep, startS * RATE_HZ)
  }
  return samples
}

describe('a search', () => {
  it('hears short beeps of one pitch, which ring with themselves, and not where another tone of that pitch is', {
    tags: 'long',
  }, () => {
    const signal = beeps(1056, [0, 0.24], 0.14, 0.6)
    const listed = [preparedSound(signal)]
    const track = makeBed(20, 8)
    lay(track, signal, 6 * RATE_HZ, 3)
    const found = heard(track, listed)
    expect(found).toHaveLength(1)
    expect(found[0]?.startS).toBeCloseTo(6, 2)
    for (const other of [
      beeps(1056, [0], 2.5, 2.6),
      beeps(1056, [0, 0.4, 0.8], 0.3, 1.2),
      beeps(1078, [0, 0.24], 0.14, 0.6),
    ]) {
      const without = makeBed(20, 8)
      lay(without, other, 6 * RATE_HZ, 3)
      expect(heard(without, listed)).toEqual([])
    }
  })

  it('names relatives that share their recordings once, the other as what it may as well be', { tags: 'long' }, () => {
    // Four rounds, and five of the same gun that begin with another one.
    const rounds = Array.from({ length: 6 }, (_, k) => effect({ length: 4000, rateHz: RATE_HZ, seed: 90 + k }))
    const salvo = (of: readonly number[]): Float32Array => {
      const samples = new Float32Array(of.length * 4800)
      for (const [at, round] of of.entries()) addAt(samples, rounds[round] as Float32Array, at * 4800)
      return samples
    }
    const sounds = [salvo([0, 1, 2, 3]), salvo([5, 0, 1, 2, 3])]
    const listed = sounds.map((samples) => preparedSound(samples))
    for (const [laid, other] of [
      [0, 1],
      [1, 0],
    ] as const) {
      const track = makeBed(12, 8)
      lay(track, sounds[laid] as Float32Array, 4 * RATE_HZ, -3)
      const found = heard(track, listed)
      expect(found.map(({ soundIndex, alternatives }) => [soundIndex, alternatives])).toEqual([[laid, [other]]])
      expect(found[0]?.startS).toBeCloseTo(4, 2)
    }
  })

  it.each([6, 0, -6, -12])(
    'finds every effect %i dB against speech and music, in place and level',
    { tags: 'long' },
    (ratioDb) => {
      const track = makeBed(24, 5)
      const truth = EFFECTS.map((samples, index) => {
        const at = Math.round((1.37 + 3.6 * index) * RATE_HZ)
        return { index, at, gain: lay(track, samples, at, ratioDb) }
      })
      const found = heard(track)
      expect(found.map(({ soundIndex }) => soundIndex)).toEqual(truth.map(({ index }) => index))
      for (const [k, { at, gain, index }] of truth.entries()) {
        const find = found[k] as Detection
        expect(Math.abs(find.startS - find.fromS - at / RATE_HZ)).toBeLessThan(0.002)
        expect(Math.abs(find.gainDb - 20 * Math.log10(gain))).toBeLessThan(1.5)
        // Ends may be given up where the decayed tail drowns in the bed.
        expect(find.fromS).toBeLessThan(0.05)
        expect(find.toS).toBeLessThanOrEqual((EFFECTS[index] as Float32Array).length / RATE_HZ)
        expect(find.confidence).toBeGreaterThan(0.5)
        expect(find.confidence).toBeLessThanOrEqual(1)
      }
    },
  )

  it.each([11, 12, 13])('hears nothing in speech and music alone (bed %i)', (seed) => {
    expect(heard(makeBed(40, seed))).toEqual([])
  })

  it('hears nothing in noise, in silence and in a track shorter than its sounds', () => {
    expect(heard(noise(10 * RATE_HZ, 3, 0.3))).toEqual([])
    expect(heard(new Float32Array(5 * RATE_HZ))).toEqual([])
    expect(heard(noise(300, 1))).toEqual([])
  })

  it('finds each repeat, also when two overlap', () => {
    const track = makeBed(14, 6)
    const samples = EFFECTS[3] as Float32Array
    const starts = [2, 6, 6.7, 11].map((second) => second * RATE_HZ)
    for (const at of starts) lay(track, samples, at, 0)
    const found = heard(track)
    expect(found.map(({ startS, fromS }) => Math.round((startS - fromS) * 100) / 100)).toEqual([2, 6, 6.7, 11])
    expect(new Set(found.map(({ soundIndex }) => soundIndex))).toEqual(new Set([3]))
  })

  it('finds two different effects at the same time', () => {
    const track = makeBed(8, 7)
    lay(track, EFFECTS[4] as Float32Array, 3 * RATE_HZ, 0)
    lay(track, EFFECTS[1] as Float32Array, 3.4 * RATE_HZ, -3)
    expect(
      heard(track)
        .map(({ soundIndex }) => soundIndex)
        .sort(),
    ).toEqual([1, 4])
  })

  it('reports a trimmed effect as the part that is heard', () => {
    const samples = noise(2.5 * RATE_HZ, 81).map((value, n) => value * (0.4 + 0.3 * Math.sin(n / 900)))
    const sound = preparedSound(samples)
    const track = makeBed(9, 8)
    lay(track, samples.slice(0.6 * RATE_HZ, 1.9 * RATE_HZ), 4 * RATE_HZ, 0)
    const [find, ...more] = heard(track, [sound])
    expect(more).toEqual([])
    expect(Math.abs((find as Detection).fromS - 0.6)).toBeLessThan(0.05)
    expect(Math.abs((find as Detection).toS - 1.9)).toBeLessThan(0.05)
    expect(Math.abs((find as Detection).startS - 4)).toBeLessThan(0.05)
    expect(Math.abs((find as Detection).endS - 5.3)).toBeLessThan(0.05)
  })

  it('finds as a catalogue what it finds as a shortlist', () => {
    const track = makeBed(16, 8)
    for (const [index, samples] of EFFECTS.slice(0, 4).entries())
      lay(track, samples, Math.round((1 + 3.5 * index) * RATE_HZ), -9)
    const places = (finds: readonly Detection[]) =>
      finds.map(({ soundIndex, startS }) => [soundIndex, Math.round(100 * startS)])
    const thorough = places(heard(track, SOUNDS, [], true))
    expect(thorough.length).toBe(4)
    expect(places(heard(track))).toEqual(thorough)
  })

  it('finds an effect that is cut off by the end of the track', () => {
    const samples = EFFECTS[5] as Float32Array
    const track = makeBed(6, 9)
    lay(track, samples, 4.6 * RATE_HZ, 3)
    const [find] = heard(track, [SOUNDS[5] as PreparedSound])
    expect(Math.abs((find as Detection).startS - 4.6)).toBeLessThan(0.02)
    expect((find as Detection).endS).toBeLessThanOrEqual(6)
  })

  it('reports a recording that is listed twice once, and names the other', () => {
    const track = makeBed(6, 10)
    const samples = EFFECTS[2] as Float32Array
    lay(track, samples, 2 * RATE_HZ, 0)
    const quieter = preparedSound(samples.map((value) => value * 0.5))
    const found = heard(track, [SOUNDS[2] as PreparedSound, quieter, SOUNDS[0] as PreparedSound], [[0, 1]])
    expect(found).toHaveLength(1)
    expect([found[0]?.soundIndex, ...(found[0]?.alternatives ?? [])].sort()).toEqual([0, 1])
  })

  it('says on which side a sound is heard, and its level there', () => {
    const samples = noise(1.2 * RATE_HZ, 91, 0.5)
    const bedLeft = makeBed(8, 17)
    const bedRight = makeBed(8, 18)
    lay(bedLeft, samples, 3 * RATE_HZ, 3)
    const mid = bedLeft.map((value, n) => (value + (bedRight[n] as number)) / 2)
    const side = bedLeft.map((value, n) => (value - (bedRight[n] as number)) / 2)
    const [find] = heard(trackOf(mid, side), [preparedSound(samples)])
    expect(find?.balance).toBeLessThan(-0.9)
    const middle = makeBed(8, 19)
    lay(middle, samples, 3 * RATE_HZ, 3)
    expect(heard(trackOf(middle, noise(middle.length, 3, 0.01)), [preparedSound(samples)])[0]?.balance).toBe(0)
  })

  it('says that a sound fades in and out', () => {
    const samples = noise(4 * RATE_HZ, 92, 0.5)
    const faded = samples.map((value, n) => value * Math.min(1, n / RATE_HZ, (samples.length - n) / RATE_HZ))
    const track = makeBed(10, 20)
    lay(track, faded, 3 * RATE_HZ, 3)
    const [find] = heard(track, [preparedSound(samples)])
    expect(Math.abs((find?.fadeInS ?? 0) - 1)).toBeLessThan(0.3)
    expect(Math.abs((find?.fadeOutS ?? 0) - 1)).toBeLessThan(0.3)
    expect(find?.fromS).toBeLessThan(0.15)
  })

  it('says that a sound is muffled, and above which frequency', () => {
    const samples = noise(1.5 * RATE_HZ, 93, 0.5)
    const low = lowPassed(samples, 1200)
    const track = makeBed(8, 21)
    lay(track, low, 3 * RATE_HZ, 6)
    const [find] = heard(track, [preparedSound(samples)])
    expect(find?.treatment).toBe('muffled')
    expect(find?.cutoffHz).toBeGreaterThan(700)
    expect(find?.cutoffHz).toBeLessThan(2500)
  })

  it('does not say so of what is missing only where something louder covers it, as a codec leaves it out', () => {
    const samples = noise(1.5 * RATE_HZ, 93, 0.5)
    const track = makeBed(8, 21)
    lay(track, lowPassed(samples, 1200), 3 * RATE_HZ, 6)
    addAt(track, highPassed(noise(8 * RATE_HZ, 96), 1600), 0, 10 * rms(track, 3 * RATE_HZ, 4 * RATE_HZ))
    const [find] = heard(track, [preparedSound(samples)])
    expect(find).toMatchObject({ soundIndex: 0, treatment: 'as-is', cutoffHz: null })
  })

  it('finds a sound as often as it is used', { tags: 'long' }, () => {
    const track = makeBed(60, 31)
    const atS = Array.from({ length: 40 }, (_, index) => 1 + 1.37 * index)
    for (const one of atS) lay(track, EFFECTS[0] as Float32Array, Math.round(one * RATE_HZ), 0)
    const found = heard(track, SOUNDS.slice(0, 1))
    expect(found.map(({ startS, fromS }) => Math.round(100 * (startS - fromS)))).toEqual(
      atS.map((one) => Math.round(100 * one)),
    )
  })

  it('hears a sound that repeats itself once for each time it is placed, and all of what is laid end to end', {
    tags: 'long',
  }, () => {
    const beep = effect({ length: 0.25 * RATE_HZ, rateHz: RATE_HZ, seed: 7, frequencyHz: 900 })
    const alarm = new Float32Array(3 * RATE_HZ)
    for (let beat = 0; beat < 6; beat++) addAt(alarm, beep, 0.5 * beat * RATE_HZ)
    const sound = [preparedSound(alarm)]
    for (const ratioDb of [3, -6]) {
      const once = makeBed(12, 31)
      lay(once, alarm, 4 * RATE_HZ, ratioDb)
      expect(heard(once, sound).map(({ startS, endS }) => [Math.round(startS), Math.round(endS)])).toEqual([[4, 7]])
      const thrice = makeBed(16, 31)
      for (const atS of [4, 7, 10]) lay(thrice, alarm, atS * RATE_HZ, ratioDb)
      const places = heard(thrice, sound)
      expect(places.length).toBeLessThanOrEqual(4)
      // Nothing between the first and the last beep is left without a place, and no place lies over another.
      expect(places[0]?.startS).toBeCloseTo(4, 1)
      expect(places.at(-1)?.endS).toBeCloseTo(13, 0)
      places.slice(1).forEach(({ startS }, index) => {
        const gapS = startS - (places[index]?.endS ?? 0)
        expect(gapS).toBeGreaterThan(-0.05)
        expect(gapS).toBeLessThan(0.55)
      })
    }
  })

  it('says that a sound is in a room', () => {
    const dry = noise(1.2 * RATE_HZ, 94, 0.5).map((value, n) => value * Math.exp(-n / 6000))
    const track = makeBed(8, 23)
    lay(track, inRoom(dry, 95), 3 * RATE_HZ, 3)
    const [find] = heard(track, [preparedSound(dry)])
    expect(find?.treatment).toBe('room')
    expect(Math.abs((find?.startS ?? 0) - (find?.fromS ?? 0) - 3)).toBeLessThan(0.005)
  })

  it('finds sounds across the seam between two windows', { tags: 'long' }, () => {
    const [, second] = trackWindows(130 * RATE_HZ)
    const seam = second?.start as number
    const track = makeBed(130, 22)
    lay(track, EFFECTS[4] as Float32Array, seam - 0.9 * RATE_HZ, 0)
    const found = heard(track)
    expect(found.map(({ soundIndex }) => soundIndex)).toEqual([4])
    expect(Math.abs((found[0]?.startS ?? 0) - (seam / RATE_HZ - 0.9))).toBeLessThan(0.02)
  })

  it('does not report what is far too quiet to be heard', () => {
    const track = makeBed(6, 14)
    lay(track, EFFECTS[5] as Float32Array, 2 * RATE_HZ, -40)
    expect(heard(track)).toEqual([])
  })

  it('gives the same result every time', () => {
    const track = makeBed(6, 12)
    lay(track, EFFECTS[1] as Float32Array, 3 * RATE_HZ, -3)
    expect(heard(track)).toEqual(heard(track))
  })

  it('passes over sounds that cannot be heard, keeping the numbering', () => {
    const track = makeBed(6, 15)
    lay(track, EFFECTS[3] as Float32Array, 2 * RATE_HZ, 0)
    const found = heard(track, [preparedSound(new Float32Array(8000)), null, SOUNDS[3] as PreparedSound])
    expect(found.map(({ soundIndex }) => soundIndex)).toEqual([2])
  })
})

/** A sound with the echoes of a room: a hundred and fifty of them, ever weaker, over half a second. */
function inRoom(samples: Float32Array, seed: number): Float32Array {
  const out = new Float32Array(samples.length + 0.5 * RATE_HZ)
  out.set(samples)
  const random = noise(300, seed)
  for (let echo = 0; echo < 150; echo++) {
    const delay = Math.round((0.01 + 0.245 * (1 + (random[2 * echo] as number))) * RATE_HZ)
    const gain = 0.25 * (random[2 * echo + 1] as number) * Math.exp(-delay / 3000)
    addAt(out, samples, delay, gain)
  }
  return out
}

/** Four one-pole low-passes in a row: 24 dB an octave. */
function highPassed(samples: Float32Array, cutoffHz: number): Float32Array {
  const low = lowPassed(samples, cutoffHz)
  return samples.map((value, n) => value - (low[n] as number))
}

function lowPassed(samples: Float32Array, cutoffHz: number): Float32Array {
  const share = 1 - Math.exp((-2 * Math.PI * cutoffHz) / RATE_HZ)
  let out = samples
  for (let pass = 0; pass < 4; pass++) {
    let state = 0
    out = out.map((value) => {
      state += share * (value - state)
      return state
    })
  }
  return out
}

/** A piece of music of its own: notes of many pitches over hiss, no bar like another. Its first ten seconds are the loudest. */
function music(durationS: number, seed: number): Float32Array {
  const samples = noise(durationS * RATE_HZ, seed, 0.02)
  const turns = noise(Math.ceil(durationS / 0.3), seed + 1)
  for (const [beat, turn] of turns.entries())
    addAt(
      samples,
      effect({
        length: 0.8 * RATE_HZ,
        rateHz: RATE_HZ,
        seed: 900 * seed + beat,
        frequencyHz: 220 * 2 ** Math.abs(2.5 * turn),
      }),
      Math.round(beat * 0.3 * RATE_HZ),
    )
  return samples.map((value, n) => value * (n < 10 * RATE_HZ ? 1 : 0.4))
}

describe('a long sound', () => {
  const song = music(100, 17)
  const listed = [preparedSound(song), preparedSound(music(100, 18))]

  /** Lays a part of the song, with soft edges, from a second of the track on. */
  function excerpt(track: Float32Array, [fromS, toS]: readonly [number, number], atS: number, ratioDb: number): void {
    const part = song.slice(fromS * RATE_HZ, toS * RATE_HZ)
    const edge = 0.2 * RATE_HZ
    lay(
      track,
      part.map((value, n) => value * Math.min(1, n / edge, (part.length - n) / edge)),
      atS * RATE_HZ,
      ratioDb,
    )
  }

  it.each([
    [[33, 41], -12],
    [[62, 67], -6],
    [[78, 98], -15],
  ] as const)(
    'is heard by an excerpt from anywhere in it (%j s, at %d dB), as what it is',
    { tags: 'long' },
    (part, ratioDb) => {
      const track = makeBed(30, 45)
      excerpt(track, part, 5, ratioDb)
      const [find, ...more] = heard(track, listed)
      expect(more).toEqual([])
      expect(find).toMatchObject({ soundIndex: 0, treatment: 'as-is' })
      expect(Math.abs((find?.fromS ?? 0) - part[0])).toBeLessThan(0.4)
      expect(Math.abs((find?.toS ?? 0) - part[1])).toBeLessThan(0.4)
      expect(Math.abs((find?.startS ?? 0) - (find?.fromS ?? 0) - 5 + part[0])).toBeLessThan(0.01)
    },
  )

  it('is said once where it goes on across a seam between two windows', { tags: 'long' }, () => {
    const track = makeBed(140, 46)
    excerpt(track, [40, 64], 108, -9)
    const found = heard(track, listed)
    expect(found.map(({ soundIndex }) => soundIndex)).toEqual([0])
    expect(Math.abs((found[0]?.startS ?? 0) - 108)).toBeLessThan(0.4)
    expect(Math.abs((found[0]?.endS ?? 0) - 132)).toBeLessThan(0.4)
  })

  it('is heard twice where two parts of it are used, and not where another piece of its make is', {
    tags: 'long',
  }, () => {
    const track = makeBed(50, 47)
    excerpt(track, [50, 56], 4, -6)
    excerpt(track, [20, 26], 16, -6)
    lay(track, music(100, 19).slice(30 * RATE_HZ, 45 * RATE_HZ), 30 * RATE_HZ, 0)
    const found = heard(track, listed)
    expect(found.map(({ soundIndex, startS }) => [soundIndex, Math.round(startS)])).toEqual([
      [0, 4],
      [0, 16],
    ])
  })
})

describe('preparedSound', () => {
  it.each([
    ['nothing', new Float32Array(0)],
    ['less than 0.12 s', noise(0.11 * RATE_HZ, 1)],
    ['silence', new Float32Array(RATE_HZ)],
  ])('gives null for %s', (_what, samples) => {
    expect(preparedSound(samples)).toBeNull()
  })

  it('cuts into pieces of at most a second and keeps the five most energetic', () => {
    const samples = noise(9 * RATE_HZ, 5).map((value, n) => value * (n > 3 * RATE_HZ && n < 8 * RATE_HZ ? 1 : 0.3))
    const pieces = preparedSound(samples)?.pieces ?? []
    expect(pieces).toHaveLength(5)
    for (const piece of pieces) {
      expect(piece.samples.length).toBeLessThanOrEqual(RATE_HZ)
      expect(piece.start).toBeGreaterThanOrEqual(3 * RATE_HZ - 1)
      expect(rms(piece.samples) * Math.sqrt(piece.samples.length)).toBeCloseTo(1, 4)
    }
  })

  it('takes of a long sound the loudest second of every three, wherever it is loudest, and the loudest of these first', () => {
    // Loud at its beginning, quiet then; within every three seconds the second one is the loudest.
    const samples = noise(60 * RATE_HZ, 6).map((value, n) => {
      const second = Math.floor(n / RATE_HZ)
      return value * (second < 9 ? 1 : 0.1) * (second % 3 === 1 ? 1 : 0.7)
    })
    const starts = preparedSound(samples)?.pieces.map(({ start }) => start / RATE_HZ) ?? []
    expect([...starts].sort((a, b) => a - b)).toEqual(Array.from({ length: 20 }, (_, k) => 3 * k + 1))
    expect(starts.slice(0, 3).every((start) => start < 9)).toBe(true)
  })

  it('has fewer pieces, farther apart, of what is over ten minutes long', { tags: 'long' }, () => {
    const lengthS = 640
    const samples = new Float32Array(lengthS * RATE_HZ).map((_, n) => ((n * 7919) % 1000) / 1000 - 0.5)
    const starts = preparedSound(samples)?.pieces.map(({ start }) => start / RATE_HZ) ?? []
    expect(starts).toHaveLength(lengthS / 4)
    expect(Math.max(...starts)).toBeGreaterThanOrEqual(lengthS - 4)
  })

  it('leaves out pieces that are far quieter than the rest', () => {
    const samples = noise(2 * RATE_HZ, 5).map((value, n) => value * (n < RATE_HZ ? 1 : 1e-4))
    expect(preparedSound(samples)?.pieces.map(({ start }) => start)).toEqual([0])
  })
})
