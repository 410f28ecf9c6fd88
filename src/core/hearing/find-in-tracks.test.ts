import { describe, expect, it } from 'vitest'
import { bed, effect, noise, rms } from '../../../test/signals'
import { COMPACT_VERSION, CompactError, compactTrack, expandedTrack } from './compact'
import { findInTracks } from './find-in-tracks'
import { type PreparedSound, preparedSound } from './prepare'
import { trackOf } from './track'

const RATE_HZ = 16000
const EFFECT = effect({ length: 0.9 * RATE_HZ, rateHz: RATE_HZ, seed: 12 })

function bedWith(startsS: readonly number[], seed: number): Float32Array {
  const samples = bed({ length: 20 * RATE_HZ, rateHz: RATE_HZ, seed })
  for (const startS of startsS) {
    const at = startS * RATE_HZ
    const gain = (0.5 * rms(samples, at, at + EFFECT.length)) / rms(EFFECT)
    EFFECT.forEach((value, n) => {
      samples[at + n] = (samples[at + n] as number) + gain * value
    })
  }
  return samples
}

describe('a compact track', () => {
  it('takes less than a megabyte a minute', () => {
    expect(compactTrack(trackOf(noise(60 * RATE_HZ, 3, 0.2))).length).toBeLessThan(1e6)
  })

  it('comes back in place, 30 dB and more above what is lost, also where the track is quiet', () => {
    for (const level of [1, 1e-3]) {
      const samples = bed({ length: 3 * RATE_HZ + 77, rateHz: RATE_HZ, seed: 4 }).map((value) => level * value)
      const back = expandedTrack(compactTrack(trackOf(samples)))
      expect(back.frames).toBe(samples.length)
      const lost = back.midSamples(0, back.frames).map((value, n) => value - (samples[n] as number))
      expect(20 * Math.log10(rms(samples) / rms(lost))).toBeGreaterThan(30)
    }
  })

  it('takes nothing, silence and a single sample', () => {
    expect(expandedTrack(compactTrack(trackOf(new Float32Array(0)))).frames).toBe(0)
    expect(rms(expandedTrack(compactTrack(trackOf(new Float32Array(5000)))).midSamples(0, 5000))).toBe(0)
    expect(expandedTrack(compactTrack(trackOf(new Float32Array([0.5])))).midSamples(0, 1)[0]).toBeCloseTo(0.5, 1)
  })

  it.each([
    ['cut off', (bytes: Uint8Array) => bytes.slice(0, -1), 'compact-damaged'],
    ['something else', () => new TextEncoder().encode('some other kind of file'), 'compact-damaged'],
    ['of another version', (bytes: Uint8Array) => withVersion(bytes, COMPACT_VERSION + 1), 'compact-outdated'],
  ])('is refused when it is %s', (_what, damage, code) => {
    const bytes = damage(compactTrack(trackOf(noise(4000, 1))))
    let thrown: unknown
    try {
      expandedTrack(bytes)
    } catch (error) {
      thrown = error
    }
    expect(thrown).toBeInstanceOf(CompactError)
    expect((thrown as CompactError).code).toBe(code)
  })
})

describe('findInTracks', () => {
  it('finds a new sound in the tracks that it is in, a track at a time', { tags: 'long' }, () => {
    const sound = preparedSound(EFFECT) as PreparedSound
    const read: string[] = []
    function* kept() {
      for (const [key, startsS] of [
        ['first', [4, 13]],
        ['second', []],
        ['third', [9]],
      ] as const) {
        read.push(key)
        yield { key, bytes: compactTrack(trackOf(bedWith(startsS, 31 + startsS.length))) }
      }
    }
    const results = findInTracks(sound, kept())
    const first = results.next().value as { key: string; detections: readonly { startS: number; fromS: number }[] }
    expect(read).toEqual(['first'])
    expect(first.key).toBe('first')
    expect(first.detections.map(({ startS, fromS }) => Math.round(10 * (startS - fromS)) / 10)).toEqual([4, 13])
    expect([...results].map(({ key, detections }) => [key, detections.length])).toEqual([
      ['second', 0],
      ['third', 1],
    ])
  })
})

function withVersion(bytes: Uint8Array, version: number): Uint8Array {
  new DataView(bytes.buffer).setUint32(4, version, true)
  return bytes
}
