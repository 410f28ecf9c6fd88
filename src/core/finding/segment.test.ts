import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { PLAIN_SOUND } from '../../../test/plain-sound'
import { conditionOf, dayOf, fitAt, fitColumn, positionOf } from './conditions'
import { Growing, Interner } from './growing'
import { FIELD_MARK, FIELD_SHIFT, FIELDS, type FindingSound, Names, POSITION_MASK, SegmentBuilder } from './segment'
import { lowerBound, WordIndex } from './word-index'
import { stemOf, wordsOf } from './words'

function segmentOf(...sounds: Partial<FindingSound>[]) {
  const names = new Names()
  const builder = new SegmentBuilder(names)
  for (const [at, sound] of sounds.entries()) builder.add({ ...PLAIN_SOUND, id: at + 1, ...sound })
  return { segment: builder.finish(), names }
}

describe('wordsOf', () => {
  it.each([
    ['Ice CRACK, thin', ['ice', 'crack', 'thin']],
    ['Größe Straße', ['grosse', 'strasse']],
    ['café naïve', ['cafe', 'naive']],
    ['a-b_c.d', ['a', 'b', 'c', 'd']],
    ['Шум 2', ['шум', '2']],
    ['', []],
    ['!?', []],
  ])('%j', (text, words) => {
    expect(wordsOf(text)).toEqual(words)
  })

  it('reads plain text as it reads any text', () => {
    const asAny = (text: string): string[] => wordsOf(`${text}é`).map((word) => word)
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme-ascii', maxLength: 60 }), (text) => {
        // With a blank between, the added letter is a word of its own.
        expect(wordsOf(text)).toEqual(asAny(`${text} `).slice(0, -1))
      }),
    )
  })

  it('cuts off what is longer than any word', () => {
    expect(wordsOf('x'.repeat(100))).toEqual(['x'.repeat(40)])
    expect(wordsOf('é'.repeat(100))).toEqual(['e'.repeat(40)])
  })
})

describe('stemOf', () => {
  it.each([
    ['doors', 'door'],
    ['cracking', 'crack'],
    ['up', 'up'],
    ['cc0', 'cc0'],
  ])('%s is %s', (word, stem) => {
    expect(stemOf(word)).toBe(stem)
  })
})

describe('a segment', () => {
  const { segment } = segmentOf(
    { title: 'Owl far', tags: ['far off', 'night'], description: 'An owl' },
    { title: 'Far door', maker: 'Owl' },
  )

  it('holds its words in order, each with the sounds that have it and the best field', () => {
    expect([...segment.words]).toEqual([...segment.words].sort())
    const at = lowerBound(segment.words, 'owl')
    const postings = [...segment.postings.slice(segment.starts[at], segment.starts[at + 1])]
    expect(postings.map((posting) => posting & POSITION_MASK)).toEqual([0, 1])
    expect(postings.map((posting) => FIELDS[posting >>> FIELD_SHIFT])).toEqual(['title-first', 'maker'])
  })

  it('holds all words of each sound with marks where fields begin', () => {
    const words = [...segment.tokens.slice(segment.tokenStarts[1], segment.tokenStarts[2])].map((token) =>
      token >= FIELD_MARK ? `<${FIELDS[token - FIELD_MARK]}>` : segment.words[token],
    )
    expect(words).toEqual(['<title-first>', 'far', '<title>', 'far', 'door', '<category>', 'c', '<maker>', 'owl'])
  })

  it('keeps what is not known as not known', () => {
    expect(segment.columns.loudnessLufs[0]).toBeNaN()
    expect(segment.columns.tempoBpm[0]).toBeNaN()
    expect([
      segment.columns.channels[0],
      segment.columns.loops[0],
      segment.columns.vocals[0],
      segment.columns.mood[0],
    ]).toEqual([0, 0, 0, 0])
    expect(segment.vectors).toBeNull()
  })

  it('gives more to shorter titles, to kept sounds and to those used before', () => {
    const { bonus } = segmentOf(
      { title: 'a' },
      { title: 'a b c' },
      { title: 'a', kept: true },
      { title: 'a', usedCount: 2 },
    ).segment.columns
    expect(bonus[0]).toBeGreaterThan(bonus[1] as number)
    expect(bonus[2]).toBeGreaterThan(bonus[3] as number)
    expect(bonus[3]).toBeGreaterThan(bonus[0] as number)
    expect(Math.max(...bonus)).toBeLessThan(40)
  })

  it('joins vectors, leaving gaps where there are none or they have another length', () => {
    const { vectors } = segmentOf({ vector: Float32Array.of(1, 0) }, {}, { vector: Float32Array.of(1, 2, 3) }).segment
    expect([...(vectors ?? [])]).toEqual([1, 0, Number.NaN, Number.NaN, Number.NaN, Number.NaN])
    const late = segmentOf({}, {}, { vector: Float32Array.of(0, 1) }).segment
    expect([...(late.vectors ?? [])]).toEqual([Number.NaN, Number.NaN, Number.NaN, Number.NaN, 0, 1])
  })

  it('may be empty', () => {
    const empty = segmentOf().segment
    expect(empty).toMatchObject({ count: 0, words: [] })
    expect(new WordIndex(empty).prefix('a')).toEqual([0, 0])
  })
})

describe('looking up words', () => {
  const index = new WordIndex(segmentOf({ title: 'door doors doorway ice' }).segment)

  it('finds exact words, beginnings and stems', () => {
    const word = (at: number): string | undefined => index.segment.words[at]
    expect(word(index.exact('doors'))).toBe('doors')
    expect(index.exact('doo')).toBe(-1)
    const [from, to] = index.prefix('door')
    expect(index.segment.words.slice(from, to)).toEqual(['door', 'doors', 'doorway'])
    expect(index.stems('door').map(word)).toEqual(['door', 'doors'])
    expect(index.stems('none')).toEqual([])
    expect(index.frequency(index.exact('ice'))).toBe(1)
  })
})

describe('conditions', () => {
  it('find a sound by its id', () => {
    const ids = Uint32Array.from([2, 5, 9])
    expect([2, 5, 9, 1, 6, 10].map((id) => positionOf(ids, id))).toEqual([0, 1, 2, -1, -1, -1])
  })

  it('know the fits of offers and of single sounds; what is not weighed fits nothing', () => {
    const { segment, names } = segmentOf({ offer: 'a' }, { offer: 'b' }, { offer: 'a' })
    const column = fitColumn(segment, names, {
      key: '',
      byOffer: new Map([['a', 'fits']]),
      bySound: new Map([[3, 'not-stated']]),
    })
    expect([...column].map(fitAt)).toEqual(['fits', null, 'not-stated'])
    const fits = conditionOf(
      { kind: 'fit', fits: ['fits', 'not-stated', 'does-not-fit', 'fits-with-credit'] },
      segment,
      names,
      column,
    )
    expect([0, 1, 2].map(fits)).toEqual([true, false, true])
  })

  it('name sources and categories in any case, and nothing by a name that is not there', () => {
    const { segment, names } = segmentOf(
      { sourceName: 'Barn', group: 'People', category: 'Steps' },
      { sourceName: 'Hill' },
    )
    const source = conditionOf({ kind: 'source', names: ['BARN', 'nowhere'] }, segment, names, null)
    const category = conditionOf({ kind: 'category', names: ['people'] }, segment, names, null)
    expect([0, 1].map(source)).toEqual([true, false])
    expect([0, 1].map(category)).toEqual([true, false])
  })

  it('count days from dates and times', () => {
    expect(dayOf('1970-01-02')).toBe(1)
    expect(dayOf('1970-01-02T23:59:59.000Z')).toBe(1)
  })
})

describe('growing lists', () => {
  it('hold what was put in, beyond their first size', () => {
    const list = new Growing(Uint32Array)
    for (let value = 0; value < 3000; value++) list.push(value)
    expect(list.length).toBe(3000)
    expect(list.toArray()).toEqual(Uint32Array.from({ length: 3000 }, (_, at) => at))
  })

  it('number texts in the order in which they come', () => {
    const names = new Interner()
    expect(['a', 'b', 'a', ''].map((text) => names.index(text))).toEqual([0, 1, 0, 2])
    expect(names.texts).toEqual(['a', 'b', ''])
  })
})
