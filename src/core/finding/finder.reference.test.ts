import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { FitTable } from './conditions'
import { COUNT_KINDS } from './counts'
import type { Filter } from './filters'
import { Finder } from './finder'
import { parsedQuery } from './query'
import { type FindingSound, SegmentBuilder } from './segment'
import { SORTS, type Sort } from './sorts'
import { parsedVocabulary } from './vocabulary'
import { stemOf, wordsOf } from './words'

// The search against a plain look through all sounds, on small made-up catalogues.

const NO_WORDS = parsedVocabulary('').vocabulary
const TITLE_WORDS = ['owl', 'owls', 'far', 'farm', 'door', 'doors', 'ice', 'wind']

const soundOf = fc.record({
  title: fc.array(fc.constantFrom(...TITLE_WORDS), { minLength: 1, maxLength: 4 }).map((words) => words.join(' ')),
  tags: fc.array(fc.constantFrom(...TITLE_WORDS), { maxLength: 2 }),
  sourceName: fc.constantFrom('Barn', 'Slate', 'Hill'),
  category: fc.constantFrom('Doors', 'Ice', 'Animals'),
  durationS: fc.constantFrom(0.2, 1, 2.5, 8),
  loudnessLufs: fc.constantFrom(null, -30, -12),
  channels: fc.constantFrom(null, 1, 2),
  loops: fc.constantFrom(null, true, false),
  kind: fc.constantFrom('effect' as const, 'music' as const),
  tempoBpm: fc.constantFrom(null, 90, 120),
  mood: fc.constantFrom(null, 'calm', 'tense'),
  vocals: fc.constantFrom(null, true, false),
  cost: fc.constantFrom('free' as const, 'plan' as const, 'buy' as const, 'own' as const),
  priceMinor: fc.constantFrom(100, 900),
  creditOwed: fc.boolean(),
  kept: fc.boolean(),
  here: fc.boolean(),
  usedCount: fc.constantFrom(0, 1, 3),
  addedDay: fc.constantFrom(10, 20_000),
  popularity: fc.constantFrom(0, 0.5, 1),
  offer: fc.constantFrom('a', 'b'),
})

const filterOf: fc.Arbitrary<Filter> = fc.oneof(
  fc.constantFrom<Filter>(
    { kind: 'length', fromS: 1, toS: null },
    { kind: 'length', fromS: null, toS: 2.5 },
    { kind: 'source', names: ['barn', 'Hill'] },
    { kind: 'category', names: ['Ice'] },
    { kind: 'cost', costs: ['free', 'buy'], upToMinor: 500 },
    { kind: 'credit', owed: false },
    { kind: 'fit', fits: ['fits'] },
    { kind: 'here', is: true },
    { kind: 'kept', is: false },
    { kind: 'used', is: true },
    { kind: 'type', types: ['music'] },
    { kind: 'channels', stereo: true },
    { kind: 'loops', is: false },
    { kind: 'tempo', fromBpm: 100, toBpm: null },
    { kind: 'mood', names: ['calm'] },
    { kind: 'vocals', has: true },
    { kind: 'added', since: '2020-01-01' },
  ),
)

const FITS: FitTable = {
  key: 'f',
  byOffer: new Map([
    ['a', 'fits'],
    ['b', 'not-stated'],
  ]),
  bySound: new Map([[1, 'does-not-fit']]),
}

/** Whether a sound meets a condition, said plainly. */
function meets(sound: FindingSound, filter: Filter): boolean {
  switch (filter.kind) {
    case 'length':
      return sound.durationS >= (filter.fromS ?? 0) && sound.durationS <= (filter.toS ?? 1e9)
    case 'source':
      return filter.names.some((name) => name.toLowerCase() === sound.sourceName.toLowerCase())
    case 'category':
      return filter.names.includes(sound.category)
    case 'cost':
      return (
        filter.costs.includes(sound.cost) &&
        (sound.cost !== 'buy' || (sound.priceMinor ?? 0) <= (filter.upToMinor ?? 1e9))
      )
    case 'credit':
      return sound.creditOwed === filter.owed
    case 'fit':
      return filter.fits.includes(FITS.bySound.get(sound.id) ?? FITS.byOffer.get(sound.offer) ?? 'not-stated')
    case 'here':
      return sound.here === filter.is
    case 'kept':
      return sound.kept === filter.is
    case 'used':
      return sound.usedCount > 0 === filter.is
    case 'type':
      return filter.types.includes(sound.kind)
    case 'channels':
      return sound.channels !== null && sound.channels > 1 === filter.stereo
    case 'loops':
      return sound.loops === filter.is
    case 'tempo':
      return (
        sound.tempoBpm !== null && sound.tempoBpm >= (filter.fromBpm ?? 0) && sound.tempoBpm <= (filter.toBpm ?? 1e9)
      )
    case 'mood':
      return sound.mood !== null && filter.names.includes(sound.mood)
    case 'vocals':
      return sound.vocals === filter.has
    case 'added':
      return sound.addedDay >= Math.floor(Date.parse(filter.since) / 86_400_000)
    default:
      return true
  }
}

/** Whether all words of a text are in a sound: as beginnings, or by their stem. */
function answers(sound: FindingSound, text: string): boolean {
  const own = [...wordsOf(sound.title), ...sound.tags, ...wordsOf(sound.category), ...wordsOf(sound.maker)]
  return wordsOf(text).every((word) => own.some((one) => one.startsWith(word) || stemOf(one) === stemOf(word)))
}

/** A finder whose last third of sounds lies in the small segment, some of them changed. */
function finderOf(sounds: readonly FindingSound[]): Finder {
  const finder = new Finder(NO_WORDS)
  const build = (some: readonly FindingSound[]) => {
    const builder = new SegmentBuilder(finder.names)
    for (const one of some) builder.add(one)
    return builder.finish()
  }
  const split = Math.floor((sounds.length * 2) / 3)
  const outdated = sounds
    .slice(0, split + 1)
    .map((one, at) => (at === split ? { ...one, title: 'outdated', tags: [] } : one))
  finder.replace(build(outdated))
  const changed = sounds.slice(split)
  finder.change(
    build(changed),
    changed.map(({ id }) => id),
  )
  return finder
}

const catalogue = fc.array(soundOf, { minLength: 1, maxLength: 12 }).map((rows) =>
  rows.map(
    (row, at): FindingSound => ({
      id: at + 1,
      group: 'G',
      maker: 'm',
      folder: '',
      description: '',
      licence: 'L',
      vector: null,
      ...row,
      priceMinor: row.cost === 'buy' ? row.priceMinor : null,
    }),
  ),
)
const words = fc
  .array(fc.constantFrom(...TITLE_WORDS, 'o', 'fa', 'doo', 'ic'), { maxLength: 3 })
  .map((list) => list.join(' '))
const conditions = fc.uniqueArray(filterOf, { maxLength: 3, selector: ({ kind }) => kind })

describe('the search against a plain look through everything', () => {
  it('finds the same sounds, counts them, and says the same of what conditions hide', { tags: 'long' }, () => {
    fc.assert(
      fc.property(catalogue, words, conditions, (sounds, text, filters) => {
        const finder = finderOf(sounds)
        const query = { parts: parsedQuery(text).parts, filters }
        const found = finder.find({ query, sort: 'best', limit: 100, offset: 0, like: null, except: null, fits: FITS })
        const byWords = sounds.filter((sound) => answers(sound, text))
        // A word that stands nowhere is taken for another: then there is nothing to compare.
        fc.pre(found.corrections.length === 0)
        const plain = byWords.filter((sound) => filters.every((filter) => meets(sound, filter)))
        expect([...found.ids].sort((a, b) => a - b)).toEqual(plain.map(({ id }) => id))
        expect(found.total).toBe(plain.length)
        expect(found.catalogueTotal).toBe(sounds.length)
        for (const [at, filter] of filters.entries()) {
          const missing = byWords.filter((sound) => !meets(sound, filter))
          const alone = missing.filter((sound) => filters.every((other) => other === filter || meets(sound, other)))
          expect(found.hides[at]?.hiddenByItAlone).toBe(alone.length)
          expect(found.hides[at]?.hidden).toBe(missing.length)
        }
      }),
      { numRuns: 300 },
    )
  })

  it('counts every value as the plain look does, the condition of its own kind left aside', () => {
    fc.assert(
      fc.property(catalogue, conditions, (sounds, filters) => {
        const finder = finderOf(sounds)
        const counts = finder.counts(
          { query: { parts: [], filters }, like: null, except: null, fits: FITS },
          COUNT_KINDS,
        )
        const left = (kind: Filter['kind']) =>
          sounds.filter((sound) => filters.every((filter) => filter.kind === kind || meets(sound, filter)))
        for (const { value, count } of counts.source ?? [])
          expect(count).toBe(left('source').filter(({ sourceName }) => sourceName === value).length)
        for (const { value, count } of counts.cost ?? [])
          expect(count).toBe(left('cost').filter(({ cost }) => cost === value).length)
        for (const { value, count } of counts.category ?? [])
          expect(count).toBe(left('category').filter(({ category }) => category === value.name).length)
        for (const { value, count } of counts.used ?? [])
          expect(count).toBe(left('used').filter(({ usedCount }) => usedCount > 0 === value).length)
        for (const { value, count } of counts.loops ?? [])
          expect(count).toBe(left('loops').filter(({ loops }) => loops === value).length)
        for (const { value, count } of counts.mood ?? [])
          expect(count).toBe(left('mood').filter(({ mood }) => mood === value).length)
        const sum = (list: readonly number[] = []): number => list.reduce((a, b) => a + b, 0)
        expect(sum(counts.length)).toBe(left('length').length)
        expect(sum(counts.tempo)).toBe(left('tempo').filter(({ tempoBpm }) => tempoBpm !== null).length)
        expect(sum(counts.source?.map(({ count }) => count))).toBe(left('source').length)
      }),
      { numRuns: 200 },
    )
  })

  it('orders by what it says it orders by, and pages put together are the whole', () => {
    const keyOf: Readonly<Record<Exclude<Sort, 'best' | 'name'>, (sound: FindingSound) => number>> = {
      newest: ({ addedDay }) => -addedDay,
      'most-used': ({ usedCount }) => -usedCount,
      popular: ({ popularity }) => -popularity,
      shortest: ({ durationS }) => durationS,
      longest: ({ durationS }) => -durationS,
      quietest: ({ loudnessLufs }) => loudnessLufs ?? 1e9,
      loudest: ({ loudnessLufs }) => -(loudnessLufs ?? -1e9),
    }
    fc.assert(
      fc.property(catalogue, fc.constantFrom(...SORTS), fc.integer({ min: 1, max: 4 }), (sounds, sort, limit) => {
        const finder = finderOf(sounds)
        const page = (offset: number, size: number): readonly number[] =>
          finder.find({
            query: { parts: [], filters: [] },
            sort,
            limit: size,
            offset,
            like: null,
            except: null,
            fits: null,
          }).ids
        const whole = page(0, 100)
        const pages = Array.from({ length: Math.ceil(sounds.length / limit) }, (_, at) =>
          page(at * limit, limit),
        ).flat()
        expect(pages).toEqual(whole)
        if (sort === 'best' || sort === 'name') {
          const names = whole.map((id) => sounds[id - 1]?.title.slice(0, 16) ?? '')
          expect(names).toEqual([...names].sort())
          return
        }
        const keys = whole.map((id) => keyOf[sort](sounds[id - 1] as FindingSound))
        expect(keys).toEqual([...keys].sort((a, b) => a - b))
      }),
      { numRuns: 200 },
    )
  })
})
