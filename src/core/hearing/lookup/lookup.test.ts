// @module-tag long
import { describe, expect, it } from 'vitest'
import { addAt, bed, noise, rms } from '../../../../test/signals'
import { CellTransform } from '../cells'
import { bestKernel, preparedWindow, trackWindows } from '../correlate'
import { type PreparedSound, preparedSound } from '../prepare'
import type { RawDetection } from '../search'
import { spedSound } from '../speed'
import { type Track, trackOf } from '../track'
import { ProposalConfirmer } from './confirm'
import { bestProducts, bestProposals, type Proposal, proposalsIn } from './lookup'
import { PlainProducts } from './plain-products'
import { LOOKUP_SPEEDS, soundTemplates } from './sound-templates'
import { decodedTemplates, encodedTemplates } from './stored-templates'
import { trackPatches } from './track-patches'

const RATE_HZ = 16000

/** A sound of tones and hiss that come and go, so that no part of it is like another. */
function changing(durationS: number, seed: number): Float32Array {
  const hiss = noise(durationS * RATE_HZ, seed)
  let low = 0
  let phase = 0
  return hiss.map((value, n) => {
    const t = n / RATE_HZ
    low += (0.2 + 0.15 * Math.sin(9 * t + seed)) * (value - low)
    phase += (2 * Math.PI * (600 + 350 * Math.sin((4 + (seed % 3)) * t + seed) + 140 * Math.sin(19 * t))) / RATE_HZ
    return 0.3 * (low * (1 + Math.sin((20 + seed) * t)) + 0.6 * Math.sin(phase) * (1 + Math.cos((7 + seed) * t)))
  })
}

const SOUNDS = Array.from({ length: 8 }, (_, k) => changing(0.8 + 0.3 * k, 60 + k))
const PREPARED = SOUNDS.map((samples) => preparedSound(samples) as PreparedSound)
const TEMPLATES = SOUNDS.map((samples) => soundTemplates(samples))
const products = bestProducts()
const kernel = bestKernel()

function trackWith(placed: readonly (readonly [sound: number, speed: number, atS: number, ratioDb: number])[]): Track {
  const samples = bed({ length: 20 * RATE_HZ, rateHz: RATE_HZ, seed: 71 })
  for (const [sound, speed, atS, ratioDb] of placed) {
    const played = spedSound(SOUNDS[sound] as Float32Array, speed)
    const at = Math.round(atS * RATE_HZ)
    addAt(samples, played, at, (rms(samples, at, at + played.length) * 10 ** (ratioDb / 20)) / rms(played))
  }
  return trackOf(samples)
}

function proposed(track: Track, most: number): Proposal[] {
  const patches = trackPatches(track, { start: 0, frames: track.frames })
  return bestProposals(proposalsIn(patches, TEMPLATES, products), most)
}

function confirmed(track: Track, known: readonly RawDetection[] = []): RawDetection[] {
  const confirmer = new ProposalConfirmer(kernel, new CellTransform())
  const [range] = trackWindows(track.frames) as [{ start: number; frames: number }]
  const window = preparedWindow(track, range, kernel)
  const all = proposed(track, 60)
  return PREPARED.flatMap((sound, soundIndex) => {
    const own = all.filter((one) => one.soundIndex === soundIndex)
    return confirmer.confirm(track, window, sound, own, { known, scoreMin: 7.5 })
  })
}

describe('a sound that is looked up', () => {
  it.each([0.77, 0.9, 1.12, 1.3])('is proposed at its place and %d of its speed, among the first', (speed) => {
    const track = trackWith([[2, speed, 6, 0]])
    const [first] = proposed(track, 5).filter(({ soundIndex }) => soundIndex === 2) as [Proposal]
    expect(first.speed / speed).toBeCloseTo(1, 1)
    expect((first.at - first.centre / first.speed) / RATE_HZ).toBeCloseTo(6, 0.7)
  })

  it('is proposed the same by the plain products', () => {
    const track = trackWith([[1, 1.1, 3, 0]])
    const patches = trackPatches(track, { start: 0, frames: 6 * RATE_HZ })
    const some = TEMPLATES.slice(0, 3)
    expect(proposalsIn(patches, some, new PlainProducts())).toEqual(proposalsIn(patches, some, products))
  })

  it('is passed over where it is silent, and nothing is proposed in an empty track', () => {
    const silent = soundTemplates(new Float32Array(RATE_HZ))
    expect(silent.speeds).toHaveLength(0)
    const patches = trackPatches(trackOf(bed({ length: 4 * RATE_HZ, rateHz: RATE_HZ, seed: 72 })), {
      start: 0,
      frames: 4 * RATE_HZ,
    })
    expect(proposalsIn(patches, [silent, null], products)).toEqual([])
    expect(proposalsIn({ start: 0, rows: new Int16Array(0) }, TEMPLATES, products)).toEqual([])
  })

  it('has at most a few proposals a minute, and none twice', () => {
    const track = trackWith([[4, 1.2, 4, 3]])
    const all = proposed(track, 1000)
    for (let sound = 0; sound < SOUNDS.length; sound++)
      expect(all.filter(({ soundIndex }) => soundIndex === sound).length).toBeLessThanOrEqual(6)
    const twice = { soundIndex: 0, z: 9, at: 80_000, centre: 4000, speed: 1.1025 }
    expect(bestProposals([twice, { ...twice, z: 8, at: 80_300 }], 10)).toEqual([twice])
    expect(bestProposals([twice, { ...twice, z: 8, at: 90_000 }], 10)).toHaveLength(2)
    expect(bestProposals([twice, { ...twice, z: 8, speed: 1.215 }], 10)).toHaveLength(2)
    expect(bestProposals([twice, { ...twice, z: 11, soundIndex: 1 }], 1)).toMatchObject([{ soundIndex: 1 }])
  })
})

describe('what was looked up', () => {
  it.each([
    [1, 0.8],
    [3, 0.93],
    [5, 1.07],
    [6, 1.25],
  ] as const)('is heard: sound %d at %d of its speed', (sound, speed) => {
    const finds = confirmed(trackWith([[sound, speed, 7, 0]]))
    expect(finds.map(({ soundIndex }) => soundIndex)).toEqual([sound])
    const [find] = finds as [RawDetection]
    expect(find.treatment).toBe('speed')
    expect((find.speed ?? 0) / speed).toBeCloseTo(1, 3)
    expect(find.lag / RATE_HZ).toBeCloseTo(7, 2)
  })

  it('is heard twice where it is there twice, each at its own speed', () => {
    const finds = confirmed(
      trackWith([
        [2, 0.85, 3, 0],
        [2, 1.15, 12, 0],
      ]),
    )
    const speeds = finds.sort((a, b) => a.lag - b.lag).map(({ speed }) => Math.round(100 * (speed ?? 0)))
    expect(speeds).toEqual([85, 115])
  })

  it('is not heard in a bed that it is not in, nor backwards, nor as one that is like it', () => {
    expect(confirmed(trackWith([]))).toEqual([])
    const samples = bed({ length: 20 * RATE_HZ, rateHz: RATE_HZ, seed: 71 })
    const backwards = spedSound(SOUNDS[3] as Float32Array, 1.1).reverse()
    addAt(samples, backwards, 5 * RATE_HZ, rms(samples) / rms(backwards))
    const cousin = spedSound(changing(1.7, 97), 0.9)
    addAt(samples, cousin, 12 * RATE_HZ, rms(samples) / rms(cousin))
    expect(confirmed(trackOf(samples))).toEqual([])
  })

  it('is left to the plain search at its own speed, and where a find explains it already', () => {
    expect(confirmed(trackWith([[3, 1, 7, 3]]))).toEqual([])
    const track = trackWith([[3, 1.07, 7, 3]])
    const finds = confirmed(track)
    expect(finds).toHaveLength(1)
    expect(confirmed(track, finds)).toEqual([])
  })
})

describe('stored templates', () => {
  const [templates] = TEMPLATES as [(typeof TEMPLATES)[number]]
  const bytes = encodedTemplates(templates)

  it('come back as they were', () => {
    expect(decodedTemplates(bytes)).toEqual(templates)
    const none = soundTemplates(new Float32Array(RATE_HZ))
    expect(decodedTemplates(encodedTemplates(none))).toEqual(none)
    // As part of a larger buffer, as a file is read.
    const shifted = new Uint8Array(bytes.length + 3)
    shifted.set(bytes, 3)
    expect(decodedTemplates(shifted.subarray(3))).toEqual(templates)
    expect(decodedTemplates(Buffer.from(shifted).subarray(3))).toEqual(templates)
  })

  it('are for all speeds, each anchor with its own', () => {
    expect(templates.speeds.length % LOOKUP_SPEEDS.length).toBe(0)
    expect(Math.max(...templates.centres)).toBeLessThanOrEqual((SOUNDS[0] as Float32Array).length)
    const anchors = [...new Set((TEMPLATES[7] as typeof templates).centres)].sort((a, b) => a - b)
    expect(anchors.length).toBeGreaterThan(1)
    for (const [at, anchor] of anchors.entries())
      if (at > 0) expect(anchor - (anchors[at - 1] as number)).toBeGreaterThan(0.5 * RATE_HZ)
  })

  it('are not believed when cut off, of another version, of another kind, or with a speed that there is not', () => {
    const changed = (at: number): Uint8Array => bytes.map((value, n) => (n === at ? value ^ 0xff : value))
    for (const damaged of [
      bytes.subarray(0, 10),
      bytes.subarray(0, bytes.length - 1),
      changed(0),
      changed(4),
      changed(12),
    ])
      expect(decodedTemplates(damaged)).toBeNull()
    expect(decodedTemplates(changed(16 + 4 * templates.speeds.length))).toBeNull()
  })
})
