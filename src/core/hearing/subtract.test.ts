import { describe, expect, it } from 'vitest'
import { addAt, bed, effect, rms } from '../../../test/signals'
import { CellTransform } from './cells'
import type { Detection } from './detections'
import { type PreparedSound, preparedSound } from './prepare'
import { bandLevels, hearableFromDb } from './sensitivity'
import { spedSound, spedStretch } from './speed'
import { subtracted } from './subtract'
import { trackOf } from './track'

const RATE_HZ = 16000
const EFFECT = effect({ length: 1.2 * RATE_HZ, rateHz: RATE_HZ, seed: 31 })
const SOUND = preparedSound(EFFECT) as PreparedSound

function detection(more: Partial<Detection>): Detection {
  const plain = { alternatives: [], speed: 1, cutoffHz: null, balance: 0, fadeInS: 0, fadeOutS: 0, gainDb: 0 }
  return {
    ...plain,
    soundIndex: 0,
    startS: 3,
    endS: 4.2,
    fromS: 0,
    toS: 1.2,
    treatment: 'as-is',
    score: 20,
    confidence: 1,
    ...more,
  }
}

/** How much of what was placed in the mix is left, dB, in the stretch where it was. */
function leftDb(laid: Float32Array, more: Partial<Detection>): number {
  const under = bed({ length: 8 * RATE_HZ, rateHz: RATE_HZ, seed: 3, level: 0.02 })
  const track = under.slice()
  addAt(track, laid, 3 * RATE_HZ, 1)
  const rest = subtracted(trackOf(track), [detection(more)], () => SOUND)
  const left = rest
    .midSamples(3 * RATE_HZ, 3 * RATE_HZ + laid.length)
    .map((value, n) => value - (under[3 * RATE_HZ + n] as number))
  return 20 * Math.log10(rms(left) / rms(laid))
}

describe('subtracted', () => {
  it('takes a sound away and leaves what lies under it', () => {
    expect(leftDb(EFFECT, {})).toBeLessThan(-15)
  })

  it('takes away a part, and a sound at another speed', () => {
    const part = EFFECT.slice(0.2 * RATE_HZ, 0.9 * RATE_HZ)
    expect(leftDb(part, { fromS: 0.2, toS: 0.9, endS: 3.7 })).toBeLessThan(-12)
    expect(leftDb(spedSound(EFFECT, 1.1), { treatment: 'speed', speed: 1.1 })).toBeLessThan(-12)
  })

  it.each([0.5, -0.5, 0.3])('takes away what lies %f of a frame beside the find, high as it may be', (frames) => {
    // Between 4 and 6.5 kHz half a frame is most of half a turn.
    const hiss = new Float32Array(EFFECT.length).map((_, n) => {
      const partials = Array.from({ length: 12 }, (_, k) =>
        Math.sin((2 * Math.PI * (4000 + 227 * k) * n) / RATE_HZ + k * k),
      )
      return 0.05 * partials.reduce((sum, one) => sum + one, 0)
    })
    const sound = preparedSound(hiss) as PreparedSound
    const moved = spedStretch(hiss, 1, (hiss.length >> 1) + frames, hiss.length)
    const track = new Float32Array(8 * RATE_HZ)
    addAt(track, moved, 3 * RATE_HZ)
    const rest = subtracted(trackOf(track), [detection({})], () => sound)
    const left = rms(rest.midSamples(3 * RATE_HZ, 3 * RATE_HZ + hiss.length))
    expect(20 * Math.log10(left / rms(moved))).toBeLessThan(-15)
  })

  it('leaves the track as it was, and what it does not know', () => {
    const track = trackOf(bed({ length: 6 * RATE_HZ, rateHz: RATE_HZ, seed: 4 }))
    const before = track.mid.slice()
    subtracted(track, [detection({})], () => SOUND)
    expect([...track.mid]).toEqual([...before])
    const unknown = subtracted(track, [detection({})], () => null)
    expect([...unknown.mid]).toEqual([...before])
  })

  it('lays the rest where it is told to, over what another one left there', () => {
    const track = trackOf(bed({ length: 6 * RATE_HZ, rateHz: RATE_HZ, seed: 4 }))
    const expected = subtracted(track, [detection({})], () => SOUND)
    const memory = new SharedArrayBuffer(2 * track.frames + 64)
    const into = new Int16Array(memory, 0, track.frames).fill(77)
    for (let times = 0; times < 2; times++) {
      const rest = subtracted(track, [detection({})], () => SOUND, into)
      expect(rest.mid).toBe(into)
      expect(Buffer.compare(Buffer.from(memory, 0, 2 * track.frames), Buffer.from(expected.mid.buffer))).toBe(0)
    }
    expect([...new Int16Array(memory, 2 * track.frames)].some(Boolean)).toBe(false)
  })

  it('takes sounds that reach over the end of the track', () => {
    const track = trackOf(bed({ length: 3.5 * RATE_HZ, rateHz: RATE_HZ, seed: 4 }))
    expect(subtracted(track, [detection({ endS: 3.5 })], () => SOUND).frames).toBe(3.5 * RATE_HZ)
  })
})

describe('hearableFromDb', () => {
  const cells = new CellTransform()

  it('is higher in a louder track, by about as much', () => {
    const quiet = bed({ length: 20 * RATE_HZ, rateHz: RATE_HZ, seed: 5, level: 0.01 })
    const levelsOf = (gain: number) => bandLevels(trackOf(quiet.map((value) => gain * value)), cells)
    const first = hearableFromDb(SOUND, levelsOf(1), 8, cells) as number
    const second = hearableFromDb(SOUND, levelsOf(10), 8, cells) as number
    expect(Math.abs(second - first - 20)).toBeLessThanOrEqual(2)
  })

  it('asks for more of a pure tone than of noise of the same power in the same band: a matched filter gains little of it', () => {
    const levels = bandLevels(trackOf(bed({ length: 20 * RATE_HZ, rateHz: RATE_HZ, seed: 5 })), cells)
    const tone = new Float32Array(RATE_HZ).map((_, n) => 0.2 * Math.sin((2 * Math.PI * 1000 * n) / RATE_HZ))
    // The same tone with its pitch wandering over a third of an octave.
    let phase = 0
    const wide = new Float32Array(RATE_HZ).map((_, n) => {
      phase += (2 * Math.PI * (1000 + 130 * Math.sin(n / 61) + 90 * Math.sin(n / 17.3))) / RATE_HZ
      return 0.2 * Math.sin(phase)
    })
    const [ofTone, ofWide] = [tone, wide].map((samples) =>
      hearableFromDb(preparedSound(samples) as PreparedSound, levels, 8, cells),
    ) as [number | null, number]
    expect(ofWide).toBeLessThan(0)
    expect(ofTone ?? 99).toBeGreaterThan(ofWide + 6)
  })

  it('asks for more level when more is asked of a find, and has no answer when it cannot be reached', () => {
    const levels = bandLevels(trackOf(bed({ length: 20 * RATE_HZ, rateHz: RATE_HZ, seed: 5 })), cells)
    const easy = hearableFromDb(SOUND, levels, 7, cells) as number
    expect(hearableFromDb(SOUND, levels, 12, cells)).toBeGreaterThan(easy)
    expect(hearableFromDb(SOUND, levels, 500, cells)).toBeNull()
  })
})
