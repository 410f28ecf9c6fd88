import type { FilterKind, Sort } from '../../core/finding'
import {
  type Filter,
  filterWords,
  findFilter,
  type OfferedCondition,
  parsedQuery,
  SORTS,
  withFilter,
} from '../../core/finding'
import { messages } from '../../messages'

/** What Find shows: what is typed, the conditions beside it, the order, and what results are compared with. */
export interface FindState {
  readonly text: string
  readonly filters: readonly Filter[]
  readonly sort: Sort
  /** "sound:12" or "probe:3". */
  readonly like: string | null
  /** The moment that a sound is looked for, or null. */
  readonly forMoment: MomentRef | null
}

/** A moment of a video. */
export interface MomentRef {
  readonly videoId: number
  readonly momentId: string
}

export const NOTHING_ASKED: FindState = { text: '', filters: [], sort: 'best', like: null, forMoment: null }

/** The whole list: choosing any order shows it. */
export const EVERYTHING: FindState = { ...NOTHING_ASKED, sort: 'name' }

/** Whether nothing is asked: then Find shows what suits the video in hand. */
export function isNothingAsked({ text, filters, sort, like, forMoment }: FindState): boolean {
  return text.trim() === '' && filters.length === 0 && sort === 'best' && like === null && forMoment === null
}

/** Conditions in plain words that can be taken. */
export function offersIn({ text, filters }: Pick<FindState, 'text' | 'filters'>): OfferedCondition[] {
  const set = new Set(filters.map(filterWords))
  return parsedQuery(text).offers.filter(({ filter }) => !set.has(filterWords(filter)))
}

/** An offered condition becomes a chip, and its words leave the line. */
export function taken(state: FindState, { start, end, filter }: OfferedCondition): FindState {
  const text = `${state.text.slice(0, start)} ${state.text.slice(end)}`.replace(/\s+/g, ' ').trimStart()
  return { ...state, text, filters: withFilter(state.filters, filter.kind, filter) }
}

/** Text that is typed; conditions in brackets that are complete become chips and leave the line. */
export function typed(state: FindState, text: string): FindState {
  let { filters } = state
  const left = text.replace(/\[([^\][]*)\]/g, (whole, words: string) => {
    const filter = findFilter(words)
    if (!filter) return whole
    filters = withFilter(filters, filter.kind, filter)
    return ' '
  })
  return { ...state, text: left === text ? text : left.replace(/\s+/g, ' ').trimStart(), filters }
}

export function filtered(state: FindState, kind: FilterKind, filter: Filter | null): FindState {
  return { ...state, filters: withFilter(state.filters, kind, filter) }
}

/** The whole question as text, as the server and the address take it. */
export function questionOf({ text, filters }: Pick<FindState, 'text' | 'filters'>): string {
  return [text.trim(), ...filters.map((filter) => `[${filterWords(filter)}]`)].filter(Boolean).join(' ')
}

/** @param question Words, with conditions in brackets. */
export function fromQuestion(
  question: string,
  sort: Sort = 'best',
  like: string | null = null,
  forMoment: MomentRef | null = null,
): FindState {
  const { filters } = parsedQuery(question)
  const state = typed({ text: '', filters, sort, like, forMoment }, question)
  return { ...state, text: state.text.trim() }
}

/** What the address says. */
export function fromAddress(search: string): FindState {
  const params = new URLSearchParams(search)
  const sort = SORTS.find((one) => one === params.get('sort')) ?? 'best'
  const like = /^(sound|probe):\d+$/.exec(params.get('like') ?? '')?.[0] ?? null
  const named = /^([1-9]\d{0,14})\.([\w-]{1,64})$/.exec(params.get('for') ?? '')
  const forMoment = named ? { videoId: Number(named[1]), momentId: named[2] as string } : null
  return fromQuestion(params.get('q') ?? '', sort, like, forMoment)
}

/** The address of a state, so that it can be gone back to and sent on. */
export function addressOf(state: FindState): string {
  const params = new URLSearchParams()
  const question = questionOf(state)
  if (question) params.set('q', question)
  if (state.sort !== 'best') params.set('sort', state.sort)
  if (state.like) params.set('like', state.like)
  if (state.forMoment) params.set('for', `${state.forMoment.videoId}.${state.forMoment.momentId}`)
  const search = params.toString()
  return search ? `/find?${search}` : '/find'
}

/** One value of a list put in, or taken out when it is there; null when none is left. */
export function toggled<T>(values: readonly T[], value: T): T[] | null {
  const rest = values.filter((one) => one !== value)
  const next = rest.length === values.length ? [...values, value] : rest
  return next.length === 0 ? null : next
}

export const SORT_WORDS: Readonly<Record<Sort, string>> = {
  best: messages.shell.bestMatch,
  newest: messages.shell.newest,
  'most-used': messages.shell.mostUsedHere,
  popular: messages.shell.popular,
  shortest: messages.shell.shortestFirst,
  longest: messages.shell.longestFirst,
  name: messages.common.name,
  quietest: messages.shell.quietestFirst,
  loudest: messages.shell.loudestFirst,
}
