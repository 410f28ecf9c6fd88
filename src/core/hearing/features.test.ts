import { describe, expect, it } from 'vitest'
import { effect, noise, worstDifference } from '../../../test/signals'
import { decodedFeatures, decodedMarks, encodedFeatures, FEATURES_VERSION, FeaturesError } from './features'
import { type PreparedSound, preparedSound } from './prepare'

const RATE_HZ = 16000
const SOUND = preparedSound(
  effect({ length: 2.4 * RATE_HZ, rateHz: RATE_HZ, seed: 5 }),
  noise(2.4 * RATE_HZ, 3, 0.1),
) as PreparedSound

describe('stored features', () => {
  it('come back as they were, to 16 bits', () => {
    const back = decodedFeatures(encodedFeatures(SOUND)) as PreparedSound
    expect(back.sideOfMid).toBeCloseTo(SOUND.sideOfMid, 6)
    expect([...back.marks]).toEqual([...SOUND.marks])
    expect(back.pieces.map(({ start }) => start)).toEqual(SOUND.pieces.map(({ start }) => start))
    back.pieces.forEach((piece, k) => {
      expect(piece.lowShares[0]).toBeCloseTo(SOUND.pieces[k]?.lowShares[0] as number, 5)
      expect(worstDifference(piece.samples, SOUND.pieces[k]?.samples as Float32Array)).toBeLessThan(1e-4)
    })
    const loudest = Math.max(...SOUND.samples.map(Math.abs))
    expect(worstDifference(back.samples, SOUND.samples)).toBeLessThan(loudest / 30000)
  })

  it('remember that a sound cannot be heard', () => {
    expect(decodedFeatures(encodedFeatures(null))).toBeNull()
    expect(decodedMarks(encodedFeatures(null))).toBeNull()
  })

  it('give their marks without the rest', { tags: 'long' }, () => {
    const bytes = encodedFeatures(SOUND)
    expect([...(decodedMarks(bytes) as Uint32Array)]).toEqual([...SOUND.marks])
    // Stored bytes may lie anywhere in a larger buffer.
    const shifted = new Uint8Array(bytes.length + 3)
    shifted.set(bytes, 3)
    expect([...(decodedMarks(shifted.subarray(3)) as Uint32Array)]).toEqual([...SOUND.marks])
    expect(decodedFeatures(shifted.subarray(3))).toEqual(decodedFeatures(bytes))
  })

  it.each([
    ['nothing', new Uint8Array(0), 'features-damaged'],
    ['something else', new TextEncoder().encode('RIFF of some other kind of file, and more of it'), 'features-damaged'],
    ['the first half', encodedFeatures(SOUND).slice(0, 5000), 'features-damaged'],
    ['too much', new Uint8Array([...encodedFeatures(SOUND), 0]), 'features-damaged'],
  ])('are refused when they are %s', (_what, bytes, code) => {
    expect(() => decodedFeatures(bytes)).toThrow(FeaturesError)
    expect(codeOf(() => decodedFeatures(bytes))).toBe(code)
  })

  it('are refused, and named outdated, when another version wrote them', () => {
    const bytes = encodedFeatures(SOUND)
    new DataView(bytes.buffer).setUint32(4, FEATURES_VERSION + 1, true)
    expect(codeOf(() => decodedFeatures(bytes))).toBe('features-outdated')
    expect(codeOf(() => decodedMarks(bytes))).toBe('features-outdated')
  })

  it('do not believe a header that asks for more than there is', () => {
    const bytes = encodedFeatures(SOUND)
    new DataView(bytes.buffer).setUint32(12, 0xffffff, true)
    expect(codeOf(() => decodedFeatures(bytes))).toBe('features-damaged')
  })
})

function codeOf(read: () => unknown): string {
  try {
    read()
  } catch (error) {
    if (error instanceof FeaturesError) return error.code
  }
  return ''
}
