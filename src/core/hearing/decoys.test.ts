import { describe, expect, it } from 'vitest'
import { effect } from '../../../test/signals'
import { decoyIndices, decoyOf } from './decoys'
import { type PreparedSound, preparedSound } from './prepare'

describe('decoyIndices', () => {
  it('takes all of a few, and 24 spread over many', () => {
    expect(decoyIndices(0)).toEqual([])
    expect(decoyIndices(3)).toEqual([0, 1, 2])
    const many = decoyIndices(1000)
    expect(many).toHaveLength(24)
    expect(new Set(many).size).toBe(24)
    expect(Math.min(...many)).toBeLessThan(42)
    expect(Math.max(...many)).toBeGreaterThan(957)
  })
})

describe('decoyOf', () => {
  it('is the sound backwards, piece for piece', () => {
    const sound = preparedSound(effect({ length: 40000, rateHz: 16000, seed: 4 })) as PreparedSound
    const decoy = decoyOf(sound)
    expect(decoy.samples[0]).toBe(sound.samples[39999])
    for (const [k, piece] of sound.pieces.entries()) {
      const turned = decoy.pieces[k] as (typeof sound.pieces)[number]
      expect(turned.start + turned.samples.length + piece.start).toBe(40000)
      expect([...turned.samples].reverse()).toEqual([...piece.samples])
    }
    expect(sound.samples[0]).not.toBe(decoy.samples[0])
  })
})
