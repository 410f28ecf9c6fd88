import { describe, expect, it } from 'vitest'
import { effect, noise } from '../../../test/signals'
import { resampled } from '../audio'
import { isPieceOf, type RecordingRelations, recordingLikeness, recordingRelations } from './groups'
import { type PreparedSound, preparedSound } from './prepare'

const RATE_HZ = 16000

/** A recording with something happening all the time, as real ones have. */
function recording(seed: number, durationS = 2): Float32Array {
  const out = new Float32Array(durationS * RATE_HZ)
  for (let k = 0; k * 0.25 < durationS; k++)
    effect({
      length: 0.25 * RATE_HZ,
      rateHz: RATE_HZ,
      seed: seed * 50 + k,
      frequencyHz: 250 + 170 * ((k * seed) % 13),
    }).forEach((value, n) => {
      out[Math.round(k * 0.25 * RATE_HZ) + n] = value
    })
  return out
}

function prepared(samples: Float32Array): PreparedSound {
  return preparedSound(samples) as PreparedSound
}

function relationsOf(sounds: readonly (PreparedSound | null)[]): RecordingRelations {
  return recordingRelations(
    sounds.map((sound) => sound?.marks ?? null),
    (index) => sounds[index] ?? null,
  )
}

function groupsOf(sounds: readonly (PreparedSound | null)[]): RecordingRelations['groups'] {
  return relationsOf(sounds).groups
}

describe('recordings', () => {
  const original = recording(3)
  const louder = original.map((value) => Math.max(-0.6, Math.min(0.6, value * 1.8)))
  const cut = original.slice(0.3 * RATE_HZ, 1.9 * RATE_HZ)
  const worn = original.map((value, n) => value + 0.01 * (noise(1, n + 1)[0] as number))
  const elsewhere = resampled(resampled(original, { fromHz: 16000, toHz: 11025 }), { fromHz: 11025, toHz: 16000 })

  it('brings together what is the same recording and leaves others alone', () => {
    const sounds = [recording(8), original, louder, recording(9), cut, worn, elsewhere].map(prepared)
    expect(groupsOf([...sounds, null])).toEqual([[1, 2, 4, 5, 6]])
  })

  it('does not bring together takes of one kind', () => {
    const takes = [11, 12, 13, 14].map((seed) => prepared(effect({ length: RATE_HZ, rateHz: RATE_HZ, seed })))
    expect(groupsOf(takes)).toEqual([])
  })

  it('does not bring together a file with one that holds it and more', () => {
    const medley = new Float32Array(6 * RATE_HZ)
    medley.set(original, 0)
    medley.set(recording(31), 2 * RATE_HZ)
    medley.set(recording(32), 4 * RATE_HZ)
    const pack = new Float32Array(4 * RATE_HZ)
    pack.set(recording(31), 0)
    pack.set(original, 2 * RATE_HZ)
    const { groups, pieces } = relationsOf([original, medley, recording(32), pack, louder].map(prepared))
    expect(groups).toEqual([[0, 4]])
    // What lies in what is told, and is something else than being the same.
    expect(pieces).toEqual([
      { whole: 1, piece: 0 },
      { whole: 1, piece: 2 },
      { whole: 1, piece: 4 },
      { whole: 3, piece: 0 },
      { whole: 3, piece: 4 },
    ])
    expect(isPieceOf(prepared(original), prepared(medley))).toBe(true)
    expect(isPieceOf(prepared(recording(33)), prepared(medley))).toBe(false)
  })

  it('finds a piece that comes late in a long file, and none in a file that only begins alike', {
    tags: 'long',
  }, () => {
    const long = new Float32Array(30 * RATE_HZ)
    for (let k = 0; k < 14; k++) long.set(recording(60 + k), k * 2 * RATE_HZ)
    long.set(original, 28 * RATE_HZ)
    const other = new Float32Array(4 * RATE_HZ)
    other.set(original.subarray(0, 0.4 * RATE_HZ), 0)
    other.set(recording(91, 3), 0.4 * RATE_HZ)
    expect(relationsOf([original, long, other].map(prepared))).toMatchObject({
      groups: [],
      pieces: [{ whole: 1, piece: 0 }],
    })
  })

  it('does not bring together along a chain what is not alike itself', () => {
    // Each shares most with the next; the first and the last share too little.
    const long = recording(7, 4)
    const piece = (fromS: number): PreparedSound => prepared(long.slice(fromS * RATE_HZ, (fromS + 2) * RATE_HZ))
    const chain = [0, 0.45, 0.9, 1.35].map(piece)
    const groups = groupsOf(chain)
    expect(groups.length).toBeGreaterThan(0)
    for (const group of groups)
      for (const one of group)
        for (const other of group)
          expect(recordingLikeness(chain[one] as PreparedSound, chain[other] as PreparedSound)).toBeGreaterThan(0.5)
    expect(groups.flat().length).toBeGreaterThan(1)
    expect(groups.some((group) => group.includes(0) && group.includes(3))).toBe(false)
  })

  it('loads only what may be alike', () => {
    const sounds = [recording(21), original, recording(22), louder].map(prepared)
    const loaded = new Set<number>()
    const { groups } = recordingRelations(
      sounds.map(({ marks }) => marks),
      (index) => {
        loaded.add(index)
        return sounds[index] as PreparedSound
      },
    )
    expect(groups).toEqual([[1, 3]])
    expect(loaded.has(1)).toBe(true)
    expect(loaded.size).toBeLessThan(4)
  })

  it('compares nothing again that was compared before, and comes to the same', () => {
    const medley = new Float32Array(4 * RATE_HZ)
    medley.set(original, 0)
    medley.set(recording(31), 2 * RATE_HZ)
    const sounds = [recording(21), original, medley, louder].map(prepared)
    const marks = sounds.map((sound) => sound.marks)
    const first = recordingRelations(marks, (index) => sounds[index] as PreparedSound)
    expect(first.groups).toEqual([[1, 3]])
    expect(first.pieces.length).toBe(2)
    const loaded: number[] = []
    const again = recordingRelations(
      marks,
      (index) => {
        loaded.push(index)
        return sounds[index] as PreparedSound
      },
      first.compared,
    )
    expect(loaded).toEqual([])
    expect(again).toEqual({ ...first, compared: [] })
    // A sound that is new is compared, and only with what it may be like.
    const more = [...sounds, prepared(worn)]
    const grown = recordingRelations(
      more.map((sound) => sound.marks),
      (index) => more[index] as PreparedSound,
      first.compared,
    )
    expect(grown.groups).toEqual([[1, 3, 4]])
    expect(grown.compared.every(({ second }) => second === 4)).toBe(true)
    expect(grown.compared.length).toBeGreaterThan(0)
  })

  it('does not take two for different because one could not be loaded', () => {
    const sounds = [original, louder].map(prepared)
    const marks = sounds.map((sound) => sound.marks)
    const broken = recordingRelations(marks, (index) => (index === 0 ? null : (sounds[index] as PreparedSound)))
    expect(broken).toEqual({ groups: [], pieces: [], compared: [] })
    expect(recordingRelations(marks, (index) => sounds[index] as PreparedSound, broken.compared).groups).toEqual([
      [0, 1],
    ])
  })

  it('has nothing to group in nothing', () => {
    expect(groupsOf([])).toEqual([])
  })
})

describe('recordingLikeness', () => {
  it('is 1 for the same, at any level, and low for another', () => {
    const one = recording(5)
    expect(recordingLikeness(prepared(one), prepared(one.map((value) => 0.2 * value)))).toBeGreaterThan(0.99)
    expect(recordingLikeness(prepared(one), prepared(recording(6)))).toBeLessThan(0.3)
  })
})
