import type { NearbyQuery, SectionHeading, SoundSections } from '../../contract'
import {
  FEW_RESULTS,
  type Filter,
  type FitTable,
  filterWords,
  parsedQuery,
  type Query,
  type Sort,
} from '../../core/finding'
import { DEFAULT_FRAME_RATE, mayDropFrames, shortTimecode } from '../../core/formats/timecode'
import { cutLengthS, filtersForMoment, type Moment, neighbourTimes, placeOfMoment } from '../../core/moments'
import type { DecisionContext } from '../../core/rights'
import { loadFitTable } from '../clearance/fit-table'
import type { Services } from '../context'
import { cutOf } from '../cuts/cut-rows'
import { DomainError } from '../domain-error'
import { mostBehindMs } from '../finding/behind'
import type { MayBeBehind } from '../ports/finder-messages'
import { findMomentsRow } from '../rows/moments-rows'
import { findScoreRow } from '../rows/score-rows'
import { loadSummaries } from './search-sounds'

type Finding = Pick<Services, 'db' | 'finder'>

/** A part of a list before its sounds are loaded. */
interface Part {
  readonly heading: SectionHeading
  readonly ids: readonly number[]
}

const MOMENTS_MAX = 4
/** Moments that are searched for before it is given up: this is asked for whenever Find opens. */
const MOMENTS_TRIED = 12
const SOUNDS_FOR_MOMENT = 3
const CATEGORIES_MAX = 4
const SOUNDS_OF_CATEGORY = 2
const SOUNDS_OF_LIST = 4
/** More are asked for than are shown: some stand in a part before. */
const SPARE = 24

/**
 * What is shown before anything is asked: sounds for the moments of the video in hand that have none yet, else the largest categories; then
 * what was kept, what was used often and what is new.
 */
export async function startSections(services: Finding, context: DecisionContext | null): Promise<SoundSections> {
  const asked = lookingIn(services, context)
  const first = context?.videoId ? await momentParts(services, asked.look, context.videoId) : []
  const parts = first.length > 0 ? first : await categoryParts(services, asked, context !== null)
  const lists: readonly (readonly ['kept' | 'often-used' | 'newest', readonly Filter[], Sort])[] = [
    ['kept', [{ kind: 'kept', is: true }], 'most-used'],
    ['often-used', [{ kind: 'used', is: true }], 'most-used'],
    ['newest', [], 'newest'],
  ]
  for (const [kind, filters, sort] of lists) {
    const { ids, total } = await asked.look({ parts: [], filters }, sort)
    parts.push({ heading: { kind, count: total }, ids: firstNotSeen(ids, parts, SOUNDS_OF_LIST) })
  }
  return sectionsOf(services, parts, context, asked.behindMs())
}

const SOUNDS_ALIKE = 6

/** What comes after few results: sounds that answer to most of the words, then sounds like the best of what was found. */
export async function nearbySections(
  services: Finding,
  { q }: NearbyQuery,
  context: DecisionContext | null,
): Promise<SoundSections> {
  const query = parsedQuery(q)
  if (query.parts.every(({ not }) => not)) return { sections: [], behindMs: null }
  const { look, fitsFor, noted, behindMs } = lookingIn(services, context)
  const found = await look(query, 'best')
  if (found.total >= FEW_RESULTS) return { sections: [], behindMs: behindMs() }
  const fits = await fitsFor(query)
  const seen: Part[] = [{ heading: { kind: 'newest', count: 0 }, ids: found.ids }]
  const parts: Part[] = []
  const halfMet = await noted(services.finder.ask('half-met', { query, fits }))
  for (const { met, of, total, ids } of halfMet.met)
    parts.push({ heading: { kind: 'words', met: [...met], of, count: total }, ids })
  const best = found.ids[0] ?? parts[0]?.ids[0]
  if (best !== undefined) {
    const { filters } = query
    const ids = await alikeIds(services, best, { filters, fits, noted })
    const [summary] = await loadSummaries(services, [best], null)
    const heading = { kind: 'alike' as const, soundId: best, title: summary?.title ?? '' }
    parts.push({ heading, ids: firstNotSeen(ids, [...seen, ...parts], SOUNDS_ALIKE) })
  }
  return sectionsOf(services, parts, context, behindMs())
}

/** Hands an answer on, and notes whether it is behind. */
type Noted = <T extends MayBeBehind>(asked: Promise<T>) => Promise<T>
type Look = (query: Pick<Query, 'parts' | 'filters'>, sort: Sort) => Promise<{ ids: readonly number[]; total: number }>

/**
 * Looks up several things for one answer; the terms are weighed once for all of them, where any asks for it. What was asked for it is
 * noted: the answer is behind where any of it is.
 */
function lookingIn(services: Finding, context: DecisionContext | null) {
  const answers: MayBeBehind[] = []
  const noted: Noted = async (asked) => {
    const answer = await asked
    answers.push(answer)
    return answer
  }
  let weighed: Promise<FitTable> | null = null
  const fitsFor = async ({ filters }: Pick<Query, 'filters'>): Promise<FitTable | null> => {
    if (!context || !filters.some(({ kind }) => kind === 'fit')) return null
    weighed ??= noted(loadFitTable(services, context))
    return weighed
  }
  const look: Look = async ({ parts, filters }, sort) => {
    const query = { parts, filters }
    const fits = await fitsFor(query)
    return noted(services.finder.ask('find', { query, sort, limit: SPARE, offset: 0, like: null, fits }))
  }
  return { look, fitsFor, noted, behindMs: () => mostBehindMs(answers) }
}

/** Sounds for the moments that have none: what must have one first. */
async function momentParts(services: Finding, look: Look, videoId: number): Promise<Part[]> {
  const { moments, placeOf, timeOf } = await openMoments(services, videoId)
  const parts: Part[] = []
  for (const moment of moments.slice(0, MOMENTS_TRIED)) {
    if (parts.length === MOMENTS_MAX) break
    const filters = filtersForMoment(moment, placeOf(moment))
    const query = { parts: parsedQuery(moment.words).parts, filters }
    const { ids, total } = await look(query, 'best')
    const shown = firstNotSeen(ids, parts, SOUNDS_FOR_MOMENT)
    if (shown.length === 0) continue
    const q = [moment.words, ...filters.map((filter) => `[${filterWords(filter)}]`)].join(' ')
    const { id: momentId, words } = moment
    parts.push({
      heading: { kind: 'moment', videoId, momentId, words, time: timeOf(moment), q, count: total },
      ids: shown,
    })
  }
  return parts
}

/** Moments of a video that want a sound and have none, with their places. */
async function openMoments({ db }: Pick<Services, 'db'>, videoId: number) {
  const { document, cutId } = await findMomentsRow(db, videoId)
  const row =
    cutId === null ? undefined : await db.selectFrom('cuts').selectAll().where('id', '=', cutId).executeTakeFirst()
  const cut = row ? cutOf(row, new Map()) : null
  const { placements } = (await findScoreRow(db, videoId)).document
  const placed = new Set(placements.flatMap(({ target }) => (target?.kind === 'moment' ? [target.momentId] : [])))
  const isOpen = ({ id, kind, words, soundId }: Moment): boolean =>
    kind !== 'silence' && words.trim() !== '' && soundId === null && !placed.has(id)
  const times = neighbourTimes(document.moments, cut?.picture?.events ?? [])
  const rate = cut?.picture?.frameRate ?? DEFAULT_FRAME_RATE
  return {
    moments: document.moments
      .filter(isOpen)
      .toSorted((a, b) => Number(b.weight === 'must') - Number(a.weight === 'must') || a.atS - b.atS),
    placeOf: (moment: Moment) =>
      placeOfMoment(moment, times, { durationS: cut ? cutLengthS(cut) : Number.MAX_SAFE_INTEGER, cutLufs: null }),
    timeOf: ({ atS }: Moment) => (cut ? shortTimecode(atS, rate, mayDropFrames(rate)) : `${atS.toFixed(1)} s`),
  }
}

const ALLOWED: Filter = { kind: 'fit', fits: ['fits', 'fits-with-credit'] }

/** The largest categories, each with what is taken most often of it: what is allowed in the video in hand, where there is any. */
async function categoryParts(
  services: Finding,
  { look, noted }: { readonly look: Look; readonly noted: Noted },
  hasVideo: boolean,
): Promise<Part[]> {
  const query = { parts: [], filters: [] }
  const { counts } = await noted(services.finder.ask('count', { query, like: null, fits: null, kinds: ['category'] }))
  const largest = (counts.category ?? []).toSorted((a, b) => b.count - a.count).slice(0, CATEGORIES_MAX)
  const parts: Part[] = []
  for (const { value, count } of largest) {
    const within: Filter = { kind: 'category', names: [value.name] }
    const allowed = hasVideo ? await look({ parts: [], filters: [within, ALLOWED] }, 'popular') : null
    const { ids } = allowed?.total ? allowed : await look({ parts: [], filters: [within] }, 'popular')
    const shown = firstNotSeen(ids, parts, SOUNDS_OF_CATEGORY)
    parts.push({ heading: { kind: 'category', name: value.name, count }, ids: shown })
  }
  return parts
}

/** @returns None while the sound has not been listened to. */
async function alikeIds(
  { finder }: Pick<Services, 'finder'>,
  soundId: number,
  {
    filters,
    fits,
    noted,
  }: { readonly filters: readonly Filter[]; readonly fits: FitTable | null; readonly noted: Noted },
): Promise<readonly number[]> {
  try {
    const query = { parts: [], filters }
    const like = { kind: 'sound' as const, id: soundId }
    return (await noted(finder.ask('find', { query, sort: 'best', limit: SPARE, offset: 0, like, fits }))).ids
  } catch (error) {
    if (error instanceof DomainError && error.code === 'not-listened-to') return []
    throw error
  }
}

function firstNotSeen(ids: readonly number[], parts: readonly Part[], count: number): number[] {
  const seen = new Set(parts.flatMap((part) => part.ids))
  return ids.filter((id) => !seen.has(id)).slice(0, count)
}

async function sectionsOf(
  services: Finding,
  parts: readonly Part[],
  context: DecisionContext | null,
  behindMs: number | null,
): Promise<SoundSections> {
  const ids = parts.flatMap((part) => part.ids)
  const byId = new Map((await loadSummaries(services, ids, context)).map((sound) => [sound.id, sound]))
  return {
    sections: parts.flatMap((part) => {
      const sounds = part.ids.flatMap((id) => byId.get(id) ?? [])
      return sounds.length > 0 ? [{ heading: part.heading, sounds }] : []
    }),
    behindMs,
  }
}
