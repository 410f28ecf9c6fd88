import fs from 'node:fs'
import { describe, expect, it } from 'vitest'
import { demoFinder, JUDGED, ndcgAt10 } from '../../../test/judged-queries'
import { PLAIN_SOUND } from '../../../test/plain-sound'
import type { FitTable } from './conditions'
import { COUNT_KINDS } from './counts'
import { Finder, type FindRequest } from './finder'
import { parsedQuery } from './query'
import { type FindingSound, SegmentBuilder } from './segment'
import { parsedVocabulary } from './vocabulary'
import { wordsOf } from './words'

const WORDS = parsedVocabulary('whoosh, swoosh > whip\nriser, build-up\nkettle, teapot').vocabulary

function sound(id: number, title: string, more: Partial<FindingSound> = {}): FindingSound {
  return { ...PLAIN_SOUND, id, title, durationS: id, ...more }
}

function finderOf(sounds: readonly FindingSound[]): Finder {
  const finder = new Finder(WORDS)
  finder.replace(segmentOf(finder, sounds))
  return finder
}

function segmentOf(finder: Finder, sounds: readonly FindingSound[]) {
  const builder = new SegmentBuilder(finder.names)
  for (const one of sounds) builder.add(one)
  return builder.finish()
}

function ask(finder: Finder, text: string, more: Partial<FindRequest> = {}) {
  return finder.find({
    query: parsedQuery(text),
    sort: 'best',
    limit: 100,
    offset: 0,
    like: null,
    except: null,
    fits: null,
    ...more,
  })
}

describe('what answers to words', () => {
  const finder = finderOf([
    sound(1, 'Whoosh past'),
    sound(2, 'Wind in the door', { tags: ['swoosh'] }),
    sound(3, 'Riser, slow', { description: 'A whoosh at the end' }),
    sound(4, 'Slow build up', { maker: 'Doorley' }),
    sound(5, 'Past the open door', { folder: 'Hill/Whips' }),
    sound(6, 'Größe', { category: 'Doors', group: 'Passages' }),
  ])

  it.each([
    ['whoosh', [1, 2, 3, 5]],
    ['who', [1, 3]],
    ['swoosh', [2, 1, 3, 5]],
    ['door', [5, 2, 6, 4]],
    ['door -past', [2, 6, 4]],
    ['door -"open door"', [2, 6, 4]],
    ['"the door"', [2]],
    ['"door the"', []],
    ['riser', [3, 4]],
    ['build up', [4, 3]],
    ['buildup', [4, 3]],
    ['"build up"', [4]],
    ['past whoosh', [1, 5]],
    ['grosse', [6]],
    ['whip', [5, 1, 2, 3]],
    // A group is where sounds stand, not what they are called.
    ['passages', []],
    ['', [6, 5, 3, 4, 1, 2]],
  ])('%j', (text, ids) => {
    const found = ask(finder, text)
    expect(found.ids).toEqual(ids)
    expect(found.total).toBe(ids.length)
    expect(found.catalogueTotal).toBe(6)
  })

  it('says what was taken for a word that stands nowhere', () => {
    expect(ask(finder, 'whoosj')).toMatchObject({
      ids: [1, 2, 3, 5],
      corrections: [{ typed: 'whoosj', shown: 'whoosh' }],
    })
    expect(ask(finder, 'qqqq')).toMatchObject({ ids: [], corrections: [], total: 0 })
    // A word whose synonym is there is no typing error.
    expect(ask(finderOf([sound(1, 'Teapot')]), 'kettle')).toMatchObject({ ids: [1], corrections: [] })
  })

  it('gives page after page, none twice', () => {
    const pages = [0, 2, 4].flatMap((offset) => ask(finder, 'door', { limit: 2, offset }).ids)
    expect(pages).toEqual([5, 2, 6, 4])
  })
})

describe('ranking', () => {
  it.each([
    [
      'title before tags before description',
      [sound(1, 'x', { description: 'thud' }), sound(2, 'y', { tags: ['thud'] }), sound(3, 'z thud')],
      [3, 2, 1],
    ],
    [
      'exact before stem before the beginning of a word',
      [sound(1, 'a thudbox'), sound(2, 'a thuds'), sound(3, 'a thud')],
      [3, 2, 1],
    ],
    ['shorter titles', [sound(1, 'a thud on old planks'), sound(2, 'a thud')], [2, 1]],
    [
      'kept and used before',
      [sound(1, 'a thud'), sound(2, 'a thud', { usedCount: 1 }), sound(3, 'a thud', { kept: true })],
      [3, 2, 1],
    ],
    [
      'popularity breaks a tie',
      [sound(1, 'a thud', { popularity: 0.1 }), sound(2, 'a thud', { popularity: 0.9 })],
      [2, 1],
    ],
  ] as const)('%s', (_, sounds, ids) => {
    expect(ask(finderOf(sounds), 'thud').ids).toEqual(ids)
  })

  it('of the judged queries on the demo catalogue is what a person would want', () => {
    expect(JUDGED.length).toBeGreaterThanOrEqual(60)
    const demo = demoFinder(parsedVocabulary(fs.readFileSync('vocabulary/sounds.txt', 'utf8')).vocabulary)
    const gains = JUDGED.map((judged) => ({ query: judged[0], ndcg: ndcgAt10(demo, judged) }))
    const poor = gains.filter(({ ndcg }) => !(ndcg >= 0.5)).map(({ query }) => query)
    expect(poor).toEqual([])
    expect(gains.reduce((sum, { ndcg }) => sum + ndcg, 0) / gains.length).toBeGreaterThan(0.92)
  })

  it('answers as a plain look through all sounds does', () => {
    const titles = ['owl far', 'owl near the far barn', 'farm owl', 'barn', 'near and far', 'far owls']
    const finder = finderOf(titles.map((title, at) => sound(at + 1, title)))
    for (const text of ['owl', 'far', 'f', 'o fa', 'near far', 'barn owl', 'fa ba ne', 'x']) {
      const plain = titles.flatMap((title, at) =>
        wordsOf(text).every((word) => beginsAny(title, word)) ? [at + 1] : [],
      )
      expect([...ask(finder, text).ids].sort(), text).toEqual(plain)
    }
  })
})

function beginsAny(title: string, word: string): boolean {
  return wordsOf(title).some((one) => one.startsWith(word) || one === `${word}s`)
}

const MANY = [
  sound(1, 'Door one', {
    cost: 'free',
    kind: 'effect',
    licence: 'CC0',
    channels: 1,
    sourceName: 'Barn',
    loops: false,
    group: 'Doors and controls',
    category: 'Doors',
  }),
  sound(2, 'Door two', {
    cost: 'buy',
    priceMinor: 450,
    creditOwed: true,
    licence: 'CC BY',
    channels: 2,
    kept: true,
    loops: true,
  }),
  sound(3, 'Bed', {
    kind: 'music',
    tempoBpm: 96,
    mood: 'calm',
    vocals: false,
    usedCount: 2,
    here: true,
    cost: 'plan',
    addedDay: 20_000,
  }),
  sound(4, 'Bell', { cost: 'own', here: true, maker: 'Own Maker', durationS: 0.25, loudnessLufs: -30 }),
]

describe('conditions', () => {
  const finder = finderOf(MANY)
  const fits: FitTable = { key: 'v', byOffer: new Map([['o', 'fits']]), bySound: new Map([[2, 'does-not-fit']]) }

  it.each([
    ['under 1 s', [4, 1]],
    ['2 s to 3 s', [3, 2]],
    ['from barn', [1]],
    ['in Doors', [1]],
    ['in doors and controls', [1]],
    ['free', [1]],
    ['free or up to 4.50', [1, 2]],
    ['up to 4.49', []],
    ['my own', [4]],
    ['licence CC BY', [2]],
    ['credit owed', [2]],
    ['here already', [3, 4]],
    ['not kept', [3, 4, 1]],
    ['used before', [3]],
    ['music', [3]],
    ['stereo', [2]],
    ['mono', [1]],
    ['loops', [2]],
    ['does not loop', [1]],
    ['90 to 100 bpm', [3]],
    ['mood calm', [3]],
    ['without vocals', [3]],
    ['with vocals', []],
    ['added since 2024-01-01', [3]],
    ['by own maker', [4]],
    ['fits this video', [3, 4, 1]],
    ['does not fit', [2]],
  ])('[%s]', (words, ids) => {
    expect(ask(finder, `[${words}]`, { fits }).ids).toEqual(ids)
  })

  it('nothing fits while no video is in hand', () => {
    expect(ask(finder, '[fits this video]').ids).toEqual([])
  })

  it('say how many each hides, and how many it alone', () => {
    expect(ask(finder, 'door [from Barn] [kept]')).toMatchObject({
      ids: [],
      hides: [
        { kind: 'source', hidden: 1, hiddenByItAlone: 1 },
        { kind: 'kept', hidden: 1, hiddenByItAlone: 1 },
      ],
    })
    expect(ask(finder, '[under 0.1 s] [mono]').hides).toEqual([
      { kind: 'length', hidden: 4, hiddenByItAlone: 1 },
      { kind: 'channels', hidden: 3, hiddenByItAlone: 0 },
    ])
  })
})

describe('counts', () => {
  const finder = finderOf(MANY)
  const counts = (text: string, fits: FitTable | null = null) => {
    return finder.counts({ query: parsedQuery(text), like: null, except: null, fits }, COUNT_KINDS)
  }

  it('are those of all values for what answers', () => {
    expect(counts('door')).toMatchObject({
      category: [
        { value: { group: 'Doors and controls', name: 'Doors' }, count: 1 },
        { value: { group: 'G', name: 'C' }, count: 1 },
      ],
      source: [
        { value: 'Barn', count: 1 },
        { value: 'S', count: 1 },
      ],
      cost: [
        { value: 'free', count: 1 },
        { value: 'buy', count: 1 },
      ],
      kept: [
        { value: false, count: 1 },
        { value: true, count: 1 },
      ],
      channels: [
        { value: 'mono', count: 1 },
        { value: 'stereo', count: 1 },
      ],
      loops: [
        { value: false, count: 1 },
        { value: true, count: 1 },
      ],
      vocals: [],
      mood: [],
      fit: [],
    })
    expect(counts('bed')).toMatchObject({
      mood: [{ value: 'calm', count: 1 }],
      vocals: [{ value: false, count: 1 }],
      used: [{ value: true, count: 1 }],
      type: [{ value: 'music', count: 1 }],
    })
  })

  it('of a kind do not mind the condition of that kind', () => {
    expect(counts('[from Barn]').source).toEqual([
      { value: 'Barn', count: 1 },
      { value: 'S', count: 3 },
    ])
    expect(counts('[from Barn]').cost).toEqual([{ value: 'free', count: 1 }])
    expect(counts('[kept] [from Barn]').source).toEqual([{ value: 'S', count: 1 }])
  })

  it('put lengths and tempos into bins', () => {
    const { length = [], tempo = [] } = counts('')
    expect(length.reduce((a, b) => a + b, 0)).toBe(4)
    expect(length[2]).toBe(1)
    expect(tempo.reduce((a, b) => a + b, 0)).toBe(1)
    expect(tempo[4]).toBe(1)
  })

  it('tell what fits the video in hand', () => {
    const fits: FitTable = { key: 'w', byOffer: new Map([['o', 'not-stated']]), bySound: new Map([[1, 'fits']]) }
    expect(counts('', fits).fit).toEqual([
      { value: 'fits', count: 1 },
      { value: 'not-stated', count: 3 },
    ])
  })
})

describe('orders', () => {
  const finder = finderOf([
    sound(1, 'Bell b', { durationS: 3, loudnessLufs: -20, usedCount: 1, addedDay: 5, popularity: 0.2 }),
    sound(2, 'bell a', { durationS: 1, loudnessLufs: null, usedCount: 3, addedDay: 9, popularity: 0.1 }),
    sound(3, 'Bell c', { durationS: 2, loudnessLufs: -40, usedCount: 0, addedDay: 7, popularity: 0.9 }),
  ])

  it.each([
    ['name', [2, 1, 3]],
    ['newest', [2, 3, 1]],
    ['most-used', [2, 1, 3]],
    ['popular', [3, 1, 2]],
    ['shortest', [2, 3, 1]],
    ['longest', [1, 3, 2]],
    ['loudest', [1, 3, 2]],
    ['quietest', [3, 1, 2]],
  ] as const)('%s', (sort, ids) => {
    expect(ask(finder, 'bell', { sort }).ids).toEqual(ids)
    expect(ask(finder, '', { sort, limit: 1, offset: 1 }).ids).toEqual([ids[1]])
  })
})

describe('changes beside the large segment', () => {
  it('take the place of what was there, and go when it is gone', () => {
    const finder = finderOf([sound(1, 'Owl'), sound(2, 'Owl far'), sound(3, 'Door')])
    finder.change(segmentOf(finder, [sound(2, 'Gate'), sound(9, 'Owl new', { sourceName: 'T' })]), [2, 3, 9])
    expect(ask(finder, 'owl').ids).toEqual([1, 9])
    expect(ask(finder, 'gate').ids).toEqual([2])
    expect(ask(finder, 'door').ids).toEqual([])
    expect(ask(finder, '', { sort: 'name' })).toMatchObject({ ids: [2, 1, 9], total: 3, catalogueTotal: 3 })
    expect(finder.counts({ query: parsedQuery(''), like: null, except: null, fits: null }, ['source']).source).toEqual([
      { value: 'S', count: 2 },
      { value: 'T', count: 1 },
    ])
    finder.change(segmentOf(finder, []), [2, 3, 9])
    expect(ask(finder, '').ids).toEqual([1])
  })

  it('offers are listed once, each with a sound', () => {
    const finder = finderOf([
      sound(1, 'a', { offer: 'x' }),
      sound(2, 'b', { offer: 'x' }),
      sound(3, 'c', { offer: 'y' }),
    ])
    finder.change(segmentOf(finder, []), [1])
    expect(finder.offers()).toEqual([
      { offer: 'x', id: 2 },
      { offer: 'y', id: 3 },
    ])
  })
})

describe('sounds alike', () => {
  const vector = (...values: number[]): Float32Array => {
    const norm = Math.hypot(...values)
    return Float32Array.from(values, (value) => value / norm)
  }
  const finder = finderOf([
    sound(1, 'Owl', { vector: vector(1, 0, 0) }),
    sound(2, 'Owl far', { vector: vector(0.9, 0.1, 0) }),
    sound(3, 'Door', { vector: vector(0.8, 0.6, 0), cost: 'buy' }),
    sound(4, 'Mute'),
  ])

  it('come in the order of how alike they are, without the sound itself and without what was not listened to', () => {
    const like = finder.vectorOf(1)
    expect(like).toEqual(vector(1, 0, 0))
    const found = ask(finder, '', { like, except: 1 })
    expect(found.ids).toEqual([2, 3])
    expect(found.likeness[0]).toBeCloseTo(0.994, 2)
    expect(found.likeness[1]).toBeCloseTo(0.8, 5)
    expect(finder.vectorOf(4)).toBeNull()
  })

  it('can be narrowed down like any search', () => {
    expect(ask(finder, '[to buy]', { like: vector(1, 0, 0) }).ids).toEqual([3])
    expect(ask(finder, 'owl', { like: vector(0, 1, 0) }).ids).toEqual([2, 1])
  })
})

describe('what answers to most of the words', () => {
  const finder = finderOf([
    sound(1, 'Door slam'),
    sound(2, 'Door creak'),
    sound(3, 'Hollow knock', { description: 'on a barrel' }),
    sound(4, 'Kettle', { cost: 'buy' }),
    sound(5, 'Door, hollow'),
    sound(6, 'Door of a barn, old'),
  ])
  const halfMet = (text: string) =>
    finder.halfMet({ query: parsedQuery(text), fits: null }).map(({ met, of, total, ids }) => [met, of, total, ids])

  it('comes in groups by the words, the rarest first, without what answers to all', () => {
    expect(halfMet('hollow door')).toEqual([
      [['hollow'], 2, 1, [3]],
      [['door'], 2, 3, [1, 2, 6]],
    ])
  })

  it('takes as many words as are met by any: two of three before one of three', () => {
    expect(halfMet('hollow door tower')).toEqual([[['hollow', 'door'], 3, 1, [5]]])
    expect(halfMet('tower kettle gate')).toEqual([[['kettle'], 3, 1, [4]]])
  })

  it('heeds conditions, and words that must not be there', () => {
    expect(halfMet('kettle tower [free]')).toEqual([])
    expect(halfMet('hollow door -slam [free]')).toEqual([
      [['hollow'], 2, 1, [3]],
      [['door'], 2, 2, [2, 6]],
    ])
  })

  it('tells a word that was corrected as it was taken', () => {
    expect(halfMet('ketle tower')).toEqual([[['kettle'], 2, 1, [4]]])
  })

  it('is nothing for a single word, or for none', () => {
    expect(halfMet('hollow')).toEqual([])
    expect(halfMet('qqqq zzzz')).toEqual([])
    expect(halfMet('')).toEqual([])
  })

  it('goes through both segments, and leaves out what is gone', () => {
    const one = finderOf([sound(1, 'Door slam'), sound(2, 'Door creak')])
    one.change(segmentOf(one, [sound(3, 'Hollow knock')]), [2, 3])
    const found = one.halfMet({ query: parsedQuery('hollow door'), fits: null })
    expect(found.map(({ met, ids }) => [met, ids])).toEqual([
      [['hollow'], [3]],
      [['door'], [1]],
    ])
  })

  it('shows the best few of many, and counts all', () => {
    const many = finderOf(
      Array.from({ length: 40 }, (_, at) => sound(at + 1, at === 25 ? 'Door' : 'Far door at night')),
    )
    const [group] = many.halfMet({ query: parsedQuery('door tower'), fits: null })
    expect(group).toMatchObject({ total: 40, met: ['door'] })
    expect(group?.ids).toHaveLength(6)
    expect(group?.ids[0]).toBe(26)
  })
})

describe('words that have to stand in titles, or in descriptions', () => {
  const finder = finderOf([
    sound(1, 'Door slam', { description: 'A door that is slammed' }),
    sound(2, 'Slam', { description: 'of an old door', tags: ['door'] }),
    sound(3, 'Door', { description: '' }),
    sound(4, 'Slow build up'),
    sound(5, 'Pad', { description: 'a riser, then nothing' }),
  ])

  it.each([
    ['door [in titles only]', [3, 1]],
    ['door [in descriptions only]', [1, 2]],
    // Each word has to stand there, and not only one of them.
    ['door slam [in titles only]', [1]],
    ['"old door" [in descriptions only]', [2]],
    ['"old door" [in titles only]', []],
    ['riser [in titles only]', [4]],
    ['build up [in descriptions only]', [5]],
    ['doar [in titles only]', [3, 1]],
    ['-door [in descriptions only]', [5, 4]],
  ])('%s', (text, ids) => {
    expect(ask(finder, text).ids).toEqual(ids)
  })

  it('says how many sounds it hides', () => {
    expect(ask(finder, 'old [in titles only]')).toMatchObject({
      ids: [],
      hides: [{ kind: 'words-in', hidden: 1, hiddenByItAlone: 1 }],
    })
  })
})
