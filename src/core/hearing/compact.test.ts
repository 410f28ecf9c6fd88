import { describe, expect, it } from 'vitest'
import { bed, noise, rms } from '../../../test/signals'
import { COMPACT_VERSION, CompactError, CosineTransform, compactTrack, expandedTrack } from './compact'
import { trackOf } from './track'

const RATE_HZ = 16000

describe('the cosine transform of overlapping frames', () => {
  it('is what its definition says, and gives back what overlaps', () => {
    const transform = new CosineTransform()
    const samples = noise(4 * 512, 9, 1)
    const whole = new Float32Array(4 * 512)
    for (let hop = 0; hop < 3; hop++) {
      const frame = samples.subarray(hop * 512, hop * 512 + 1024)
      const bands = new Float32Array(512)
      transform.forward(frame, bands)
      for (const k of [0, 1, 2, 255, 256, 509, 510, 511]) {
        let sum = 0
        for (let n = 0; n < 1024; n++) {
          const window = Math.sin((Math.PI * (n + 0.5)) / 1024)
          sum += window * (frame[n] as number) * Math.cos((Math.PI / 512) * (n + 0.5 + 256) * (k + 0.5))
        }
        expect(bands[k]).toBeCloseTo(sum, 3)
      }
      transform.addInverse(bands, whole.subarray(hop * 512, hop * 512 + 1024))
    }
    const lost = whole.subarray(512, 3 * 512).map((value, n) => value - (samples[512 + n] as number))
    expect(20 * Math.log10(rms(samples) / rms(lost))).toBeGreaterThan(110)
  })
})

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

function withVersion(bytes: Uint8Array, version: number): Uint8Array {
  new DataView(bytes.buffer).setUint32(4, version, true)
  return bytes
}
