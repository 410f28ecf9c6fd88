import { describe, expect, it } from 'vitest'
import { type LabelledNeighbour, proposedWords } from './proposed-words'

const near = (fraction: number, title: string, words: string[] = [], category = ''): LabelledNeighbour => ({
  fraction,
  title,
  words,
  category,
})

describe('words by what a sound sounds like', () => {
  it('are those that most of the sounds nearest to it have, weighed by how alike each is', () => {
    const { words, category, neighbours } = proposedWords(
      [
        near(0.9, 'Iron gate, slow', ['creak'], 'Doors'),
        near(0.8, 'Old gate', ['creak', 'iron'], 'Doors'),
        near(0.4, 'Ship bell', ['bronze'], 'Bells'),
      ],
      [],
    )
    expect(neighbours).toBe(3)
    expect(words.map(({ word }) => word)).toEqual(['creak', 'gate', 'iron'])
    const share = (0.81 + 0.64) / (0.81 + 0.64 + 0.16)
    expect(words[0]?.share).toBeCloseTo(share, 9)
    expect(category).toEqual({ name: 'Doors', share: expect.closeTo(share, 9) })
  })

  it('are none where one sound alone says it, or what is near is not alike', () => {
    const far = [near(0.29, 'Gate', ['iron']), near(0.2, 'Gate', ['iron'])]
    expect(proposedWords(far, [])).toEqual({ words: [], category: null, neighbours: 0 })
    expect(proposedWords([near(1, 'Gate', ['iron'], 'Doors'), ...far], []).words).toEqual([])
    const strangers = ['Gate', 'Bell', 'Rain', 'Wind'].map((title) => near(0.6, title, [], title))
    expect(proposedWords(strangers, [])).toEqual({ words: [], category: null, neighbours: 4 })
  })

  it('leave out what it is called already, numbers, short words and those that only hold titles together', () => {
    const list = [near(0.9, 'Gate with 12 the up', ['Iron Rust']), near(0.9, 'GATE with 12 the up', ['iron-rust'])]
    expect(proposedWords(list, ['my gate.wav']).words.map(({ word }) => word)).toEqual(['iron', 'rust'])
  })

  it('count a word once for each sound, however often it says it', () => {
    const loud = near(0.5, 'gate gate gate', ['gate', 'gate'])
    const { words } = proposedWords([loud, near(0.5, 'gate bell'), near(0.5, 'bell')], [])
    expect(words.map(({ word, share }) => [word, Math.round(share * 100)])).toEqual([
      ['bell', 67],
      ['gate', 67],
    ])
  })
})
