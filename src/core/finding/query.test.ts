import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type Filter, filterWords, findFilter } from './filters'
import { parsedQuery, withFilter } from './query'

describe('words', () => {
  it.each([
    ['Ice  CRACK', ['ice', 'crack']],
    ['Türschlag', ['turschlag']],
    ['wind-up', ['wind', 'up']],
    ['3 pips', ['3', 'pips']],
    ['  ', []],
    ['🎬 ()', []],
  ])('%j', (text, words) => {
    expect(parsedQuery(text).parts).toEqual(words.map((word) => ({ words: [word], quoted: false, not: false })))
  })

  it('takes quoted words in a row, also while the quotation is open', () => {
    const phrase = { words: ['ice', 'crack'], quoted: true, not: false }
    expect(parsedQuery('"ice crack" pond').parts).toEqual([phrase, { words: ['pond'], quoted: false, not: false }])
    expect(parsedQuery('"ice crack').parts).toEqual([phrase])
  })

  it('leaves out words after a minus; one with a hyphen is left out as words in a row', () => {
    expect(parsedQuery('wind -door -"far off" -build-up').parts).toEqual([
      { words: ['wind'], quoted: false, not: false },
      { words: ['door'], quoted: false, not: true },
      { words: ['far', 'off'], quoted: true, not: true },
      { words: ['build', 'up'], quoted: true, not: true },
    ])
  })

  it('ignores more than a dozen words', () => {
    const long = parsedQuery('a b c d e f g h i j k l m n')
    expect(long.parts).toHaveLength(12)
    expect(long.leftOut).toBe(2)
  })

  it('reads any text, and says where a condition in plain words stands', () => {
    const pieces = fc.constantFrom(
      'under',
      '2s',
      '2',
      's',
      '<',
      '-',
      '"',
      '[',
      ']',
      'free',
      'no',
      'credit',
      ' ',
      'x',
      '\u202e',
    )
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ maxLength: 80 }),
          fc.array(pieces).map((all) => all.join(' ')),
        ),
        (text) => {
          const { parts, offers } = parsedQuery(text)
          for (const { start, end, words } of offers) {
            expect(text.slice(start, end).replace(/\s+/g, ' ')).toBe(words)
          }
          expect(parts.every(({ words }) => words.length > 0)).toBe(true)
        },
      ),
    )
  })
})

/** Every kind of condition with the words for it. */
const FILTERS: readonly (readonly [string, Filter])[] = [
  ['2 s to 5 s', { kind: 'length', fromS: 2, toS: 5 }],
  ['under 0.3 s', { kind: 'length', fromS: null, toS: 0.3 }],
  ['over 5 min', { kind: 'length', fromS: 300, toS: null }],
  ['from Tin Barn Commons or Hill recordings', { kind: 'source', names: ['Tin Barn Commons', 'Hill recordings'] }],
  ['in Weather and water', { kind: 'category', names: ['Weather and water'] }],
  ['free or in my plan', { kind: 'cost', costs: ['free', 'plan'], upToMinor: null }],
  ['free or up to 4.50', { kind: 'cost', costs: ['free', 'buy'], upToMinor: 450 }],
  ['to buy', { kind: 'cost', costs: ['buy'], upToMinor: null }],
  ['licence CC BY or CC0', { kind: 'licence', names: ['CC BY', 'CC0'] }],
  ['credit owed', { kind: 'credit', owed: true }],
  ['no credit owed', { kind: 'credit', owed: false }],
  ['may be used or with a credit', { kind: 'fit', fits: ['fits', 'fits-with-credit'] }],
  ['here already', { kind: 'here', is: true }],
  ['not kept', { kind: 'kept', is: false }],
  ['used before', { kind: 'used', is: true }],
  ['effects or ambience', { kind: 'type', types: ['effect', 'ambience'] }],
  ['mono', { kind: 'channels', stereo: false }],
  ['loops', { kind: 'loops', is: true }],
  ['90 to 120 bpm', { kind: 'tempo', fromBpm: 90, toBpm: 120 }],
  ['mood calm or tense', { kind: 'mood', names: ['calm', 'tense'] }],
  ['without vocals', { kind: 'vocals', has: false }],
  ['added since 2026-11-01', { kind: 'added', since: '2026-11-01' }],
  ['in titles only', { kind: 'words-in', texts: 'titles' }],
  ['in descriptions only', { kind: 'words-in', texts: 'descriptions' }],
  ['by Grit Foundry', { kind: 'maker', names: ['Grit Foundry'] }],
]

describe('conditions', () => {
  it.each(FILTERS)('[%s]', (words, filter) => {
    expect(findFilter(words)).toEqual(filter)
    expect(filterWords(filter)).toBe(words)
    expect(parsedQuery(`owl [${words}] far`)).toMatchObject({
      filters: [filter],
      unknown: [],
      parts: [{ words: ['owl'] }, { words: ['far'] }],
    })
  })

  it.each([
    ['5 s to 2 s', { kind: 'length', fromS: 2, toS: 5 }],
    ['2 to 5 s', { kind: 'length', fromS: 2, toS: 5 }],
    ['500 ms to 1 min', { kind: 'length', fromS: 0.5, toS: 60 }],
    ['fits this video or fits with a duty', { kind: 'fit', fits: ['fits', 'fits-with-credit'] }],
    ['FREE', { kind: 'cost', costs: ['free'], upToMinor: null }],
  ])('%s is understood too', (words, filter) => {
    expect(findFilter(words)).toEqual(filter)
  })

  it.each(['', 'loud', '2 to 5', 'over', 'free or loud', 'added since yesterday', '2 s to 5 bpm'])(
    '[%s] is no condition',
    (words) => {
      expect(findFilter(words)).toBeNull()
      expect(parsedQuery(`[${words}]`).unknown).toEqual(words === '' ? [] : [words])
    },
  )

  it('of one kind the last counts', () => {
    expect(parsedQuery('[under 2 s] [over 5 s]').filters).toEqual([{ kind: 'length', fromS: 5, toS: null }])
  })

  it('takes the place of the one of its kind, or takes it away', () => {
    const loops: Filter = { kind: 'loops', is: true }
    const short: Filter = { kind: 'length', fromS: null, toS: 1 }
    const long: Filter = { kind: 'length', fromS: 9, toS: null }
    expect(withFilter([short, loops], 'length', long)).toEqual([loops, long])
    expect(withFilter([short, loops], 'length', null)).toEqual([loops])
  })
})
