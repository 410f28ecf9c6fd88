import type { Fit } from '../rights'

/** What the creator pays: nothing, nothing beyond a plan, nothing since it is an own file, or a price for each sound. */
export const COST_KINDS = ['free', 'plan', 'own', 'buy'] as const
export type CostKind = (typeof COST_KINDS)[number]
export const SOUND_KINDS = ['effect', 'ambience', 'music'] as const
export type SoundKind = (typeof SOUND_KINDS)[number]

/** One condition that results have to meet; several of one kind are alternatives only where the kind holds a list. */
export type Filter =
  | { readonly kind: 'length'; readonly fromS: number | null; readonly toS: number | null }
  | { readonly kind: 'source'; readonly names: readonly string[] }
  | { readonly kind: 'category'; readonly names: readonly string[] }
  | { readonly kind: 'cost'; readonly costs: readonly CostKind[]; readonly upToMinor: number | null }
  | { readonly kind: 'licence'; readonly names: readonly string[] }
  | { readonly kind: 'credit'; readonly owed: boolean }
  | { readonly kind: 'fit'; readonly fits: readonly Fit[] }
  | { readonly kind: 'here'; readonly is: boolean }
  | { readonly kind: 'kept'; readonly is: boolean }
  | { readonly kind: 'used'; readonly is: boolean }
  | { readonly kind: 'type'; readonly types: readonly SoundKind[] }
  | { readonly kind: 'channels'; readonly stereo: boolean }
  | { readonly kind: 'loops'; readonly is: boolean }
  | { readonly kind: 'tempo'; readonly fromBpm: number | null; readonly toBpm: number | null }
  | { readonly kind: 'mood'; readonly names: readonly string[] }
  | { readonly kind: 'vocals'; readonly has: boolean }
  | { readonly kind: 'added'; readonly since: string }
  | { readonly kind: 'maker'; readonly names: readonly string[] }
  /** In which texts of a sound the words have to stand. */
  | { readonly kind: 'words-in'; readonly texts: 'titles' | 'descriptions' }

export type FilterKind = Filter['kind']

const COST_WORDS: Readonly<Record<Exclude<CostKind, 'buy'>, string>> = {
  free: 'free',
  plan: 'in my plan',
  own: 'my own',
}
const FIT_WORDS: Readonly<Record<Fit, string>> = {
  fits: 'may be used',
  'fits-with-credit': 'with a credit',
  'does-not-fit': 'not allowed',
  'not-stated': 'not stated',
}
/** Words in which searches were saved before. */
const FORMER_FIT_PARTS: readonly (readonly [string, Fit])[] = [
  ['fits this video', 'fits'],
  ['fits with a duty', 'fits-with-credit'],
  ['does not fit', 'does-not-fit'],
]
const KIND_WORDS: Readonly<Record<SoundKind, string>> = { effect: 'effects', ambience: 'ambience', music: 'music' }

/** Yes-or-no conditions, in the words for both. */
const EITHER: readonly { readonly words: readonly [string, string]; readonly make: (yes: boolean) => Filter }[] = [
  { words: ['credit owed', 'no credit owed'], make: (owed) => ({ kind: 'credit', owed }) },
  { words: ['here already', 'not here yet'], make: (is) => ({ kind: 'here', is }) },
  { words: ['kept', 'not kept'], make: (is) => ({ kind: 'kept', is }) },
  { words: ['used before', 'never used'], make: (is) => ({ kind: 'used', is }) },
  { words: ['stereo', 'mono'], make: (stereo) => ({ kind: 'channels', stereo }) },
  { words: ['loops', 'does not loop'], make: (is) => ({ kind: 'loops', is }) },
  { words: ['with vocals', 'without vocals'], make: (has) => ({ kind: 'vocals', has }) },
  {
    words: ['in titles only', 'in descriptions only'],
    make: (titles) => ({ kind: 'words-in', texts: titles ? 'titles' : 'descriptions' }),
  },
]

/**
 * A condition in the words in which it is shown and can be typed between square brackets.
 *
 * "2 s to 5 s", "over 1 min", "from Tin Barn or Heron Slate", "free or up to 4.50", "may be used", "90 to 120 bpm".
 */
export function filterWords(filter: Filter): string {
  switch (filter.kind) {
    case 'length':
      return rangeWords(filter.fromS, filter.toS, secondsWords, '')
    case 'tempo':
      return rangeWords(filter.fromBpm, filter.toBpm, String, ' bpm')
    case 'source':
      return `from ${filter.names.join(' or ')}`
    case 'category':
      return `in ${filter.names.join(' or ')}`
    case 'licence':
      return `licence ${filter.names.join(' or ')}`
    case 'mood':
      return `mood ${filter.names.join(' or ')}`
    case 'maker':
      return `by ${filter.names.join(' or ')}`
    case 'cost':
      return filter.costs
        .map((cost) =>
          cost !== 'buy'
            ? COST_WORDS[cost]
            : filter.upToMinor === null
              ? 'to buy'
              : `up to ${priceWords(filter.upToMinor)}`,
        )
        .join(' or ')
    case 'fit':
      return filter.fits.map((fit) => FIT_WORDS[fit]).join(' or ')
    case 'type':
      return filter.types.map((kind) => KIND_WORDS[kind]).join(' or ')
    case 'added':
      return `added since ${filter.since}`
    default:
      return eitherWords(filter)
  }
}

/** @returns Null when the words say no condition that is known. */
export function findFilter(text: string): Filter | null {
  const words = text.trim().replace(/\s+/g, ' ')
  const small = words.toLowerCase()
  for (const { words: both, make } of EITHER) {
    const at = both.indexOf(small)
    if (at >= 0) return make(at === 0)
  }
  return namedFilter(words) ?? listFilter(small) ?? rangeFilter(small) ?? addedFilter(small)
}

function eitherWords(filter: Filter): string {
  for (const { words, make } of EITHER) {
    for (const yes of [true, false]) if (JSON.stringify(make(yes)) === JSON.stringify(filter)) return words[yes ? 0 : 1]
  }
  return ''
}

function namedFilter(words: string): Filter | null {
  const match = /^(from|in|licence|mood|by) (.+)$/i.exec(words)
  if (!match) return null
  const [, lead = '', rest = ''] = match
  // "in my plan" is a matter of cost.
  if (COST_PARTS.has(words.toLowerCase().split(' or ')[0] ?? '')) return null
  const names = rest
    .split(' or ')
    .map((name) => name.trim())
    .filter(Boolean)
  const kind = { from: 'source', in: 'category', licence: 'licence', mood: 'mood', by: 'maker' }[lead.toLowerCase()]
  return names.length === 0 ? null : ({ kind, names } as Filter)
}

const COST_PARTS = new Map<string, CostKind>([...inverted(COST_WORDS), ['to buy', 'buy']])
const FIT_PARTS = new Map([...FORMER_FIT_PARTS, ...inverted(FIT_WORDS)])
const KIND_PARTS = inverted(KIND_WORDS)

function inverted<K extends string>(words: Readonly<Record<K, string>>): Map<string, K> {
  return new Map((Object.entries(words) as [K, string][]).map(([key, word]) => [word, key]))
}

function listFilter(words: string): Filter | null {
  const parts = words.split(' or ')
  const fits = parts.flatMap((part) => FIT_PARTS.get(part) ?? [])
  if (fits.length === parts.length) return { kind: 'fit', fits }
  const kinds = parts.flatMap((part) => KIND_PARTS.get(part) ?? [])
  if (kinds.length === parts.length) return { kind: 'type', types: kinds }
  const prices = parts.flatMap((part) => /^up to (\d{1,6}(?:\.\d{1,2})?)$/.exec(part)?.[1] ?? [])
  const costs = parts.flatMap((part): CostKind[] => {
    const cost = COST_PARTS.get(part)
    return cost ? [cost] : /^up to \d/.test(part) && prices.length > 0 ? ['buy'] : []
  })
  if (costs.length !== parts.length) return null
  const highest = prices.length === 0 ? null : Math.round(Math.max(...prices.map(Number)) * 100)
  return { kind: 'cost', costs: [...new Set(costs)], upToMinor: highest }
}

const UNIT_S: Readonly<Record<string, number>> = { ms: 0.001, s: 1, min: 60, h: 3600 }
const AMOUNT = String.raw`(\d{1,6}(?:\.\d{1,3})?)\s?(ms|s|min|h|bpm)?`
const BETWEEN = new RegExp(`^${AMOUNT} to ${AMOUNT}$`)
const ONE_SIDED = new RegExp(`^(under|over) ${AMOUNT}$`)

function rangeFilter(words: string): Filter | null {
  const between = BETWEEN.exec(words)
  if (between) {
    const [, a = '', unitA, b = '', unitB] = between
    const unit = unitB ?? unitA
    if (!unit || (unit === 'bpm') !== ((unitA ?? unit) === 'bpm')) return null
    // Whichever comes first, the lower is the lower.
    const values = [inUnit(a, unitA ?? unit), inUnit(b, unit)].sort((x, y) => x - y)
    return range(unit, values[0] as number, values[1] as number)
  }
  const [, side, amount = '', unit] = ONE_SIDED.exec(words) ?? []
  if (!unit) return null
  const value = inUnit(amount, unit)
  return side === 'under' ? range(unit, null, value) : range(unit, value, null)
}

function inUnit(amount: string, unit: string): number {
  return Math.round(Number(amount) * (UNIT_S[unit] ?? 1) * 1000) / 1000
}

function range(unit: string, from: number | null, to: number | null): Filter {
  return unit === 'bpm' ? { kind: 'tempo', fromBpm: from, toBpm: to } : { kind: 'length', fromS: from, toS: to }
}

function addedFilter(words: string): Filter | null {
  const [, since = ''] = /^added since (\d{4}-\d{2}-\d{2})$/.exec(words) ?? []
  return since !== '' && !Number.isNaN(Date.parse(since)) ? { kind: 'added', since } : null
}

function rangeWords(from: number | null, to: number | null, words: (value: number) => string, unit: string): string {
  if (from === null) return `under ${words(to ?? 0)}${unit}`
  if (to === null) return `over ${words(from)}${unit}`
  return `${words(from)} to ${words(to)}${unit}`
}

/** "0.25 s", "90 s", "5 min": never shorter than it is. */
function secondsWords(seconds: number): string {
  return seconds >= 120 && seconds % 60 === 0 ? `${seconds / 60} min` : `${Math.round(seconds * 1000) / 1000} s`
}

function priceWords(minor: number): string {
  return (minor / 100).toFixed(2)
}
