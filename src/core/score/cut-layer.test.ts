import { describe, expect, it } from 'vitest'
import { cutGain, EMPTY_SCORE, newLayer, newPlacement, type Score, withCutSound } from './index'

const CUT = { sha256: 'c'.repeat(64), durationS: 40 }
const effects = newLayer('fx', 'Effects', 'effects')
const own = newLayer('own', 'Sound of the cut', 'cut')
const thud = newPlacement('p', { layerId: 'fx', audio: { kind: 'preview', soundId: 1 }, startS: 3, toS: 1 })
const withLayers = (...layers: Score['layers']): Score => ({ ...EMPTY_SCORE, layers, placements: [thud] })

describe('the cut’s own sound', () => {
  it('is mixed only where a layer is meant for it, whole and from the start, before all that is placed', () => {
    const plain = withLayers(effects)
    expect(withCutSound(plain, CUT)).toEqual({ score: plain, audio: null })
    const { score, audio } = withCutSound(withLayers(effects, own), CUT)
    expect(score.placements[0]).toMatchObject({ layerId: 'own', startS: 0, fromS: 0, toS: 40, audio, gainDb: 0 })
    expect(score.placements.slice(1)).toEqual([thud])
  })

  it('of a cut without sound is none', () => {
    const score = withLayers(own)
    expect(withCutSound(score, null).score).toBe(score)
    expect(withCutSound(score, { ...CUT, durationS: 0 }).score).toBe(score)
  })

  it.each([
    ['as it is without a layer', [effects], 1],
    ['by the level of its layer', [{ ...own, levelDb: -6.02 }], 0.5],
    ['no louder than it is in its file', [{ ...own, levelDb: 6 }], 1],
    ['not where it is muted', [{ ...own, isMuted: true }], 0],
    ['not where another is heard alone', [own, { ...effects, isSolo: true }], 0],
    ['where it is heard alone itself', [{ ...own, isSolo: true }, effects], 1],
  ])('plays %s', (_, layers, gain) => {
    expect(cutGain({ layers })).toBeCloseTo(gain, 3)
  })
})
