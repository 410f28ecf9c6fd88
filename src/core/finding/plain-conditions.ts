import { type Filter, findFilter } from './filters'

/** A condition that was typed in plain words, without brackets. */
export interface OfferedCondition {
  /** As it was typed. */
  readonly words: string
  /** Where it stands in the text. */
  readonly start: number
  readonly end: number
  readonly filter: Filter
  /** Whether the words are looked for as well: "music" may stand in a title, "under 2s" does in none. */
  readonly isSearchedToo: boolean
}

/** A word of a text, and where it stands. */
export interface PlacedWord {
  readonly text: string
  readonly start: number
}

/** Words of the longest condition: "no longer than 2 seconds". */
const MAX_WORDS = 5

const UNITS: Readonly<Record<string, string>> = {
  ms: 'ms',
  millisecond: 'ms',
  milliseconds: 'ms',
  s: 's',
  sec: 's',
  secs: 's',
  second: 's',
  seconds: 's',
  min: 'min',
  mins: 'min',
  minute: 'min',
  minutes: 'min',
  h: 'h',
  hour: 'h',
  hours: 'h',
  bpm: 'bpm',
}
const LEADS: Readonly<Record<string, 'under' | 'over'>> = {
  under: 'under',
  below: 'under',
  '<': 'under',
  'less than': 'under',
  'shorter than': 'under',
  'slower than': 'under',
  'no longer than': 'under',
  'not longer than': 'under',
  'at most': 'under',
  'up to': 'under',
  max: 'under',
  over: 'over',
  above: 'over',
  '>': 'over',
  'more than': 'over',
  'longer than': 'over',
  'faster than': 'over',
  'at least': 'over',
  min: 'over',
}
const AMOUNT = String.raw`(\d{1,6}(?:\.\d{1,3})?) ?([a-z]{1,12})?`
const ONE_SIDED = new RegExp(`^([a-z ]{2,16}|[<>]) ?${AMOUNT}$`)
const BETWEEN = new RegExp(`^(?:between |from )?${AMOUNT} ?(?:to|and|-|–) ?${AMOUNT}$`)

/** Expressions for a condition; those that may as well be a word of a title are looked for too. */
const EXPRESSIONS: readonly { readonly words: readonly string[]; readonly says: string; readonly too?: true }[] = [
  { words: ['free'], says: 'free', too: true },
  { words: ['in my plan', 'in our plan', 'in the plan'], says: 'in my plan' },
  { words: ['no credit', 'without credit', 'no credit owed', 'no attribution'], says: 'no credit owed' },
  { words: ['may be used', 'fits this video', 'for this video'], says: 'may be used' },
  { words: ['already here', 'here already'], says: 'here already' },
  { words: ['not here yet'], says: 'not here yet' },
  { words: ['never used', 'not used yet'], says: 'never used' },
  { words: ['used before'], says: 'used before' },
  { words: ['no vocals', 'without vocals', 'instrumental'], says: 'without vocals' },
  { words: ['with vocals'], says: 'with vocals' },
  { words: ['stereo'], says: 'stereo', too: true },
  { words: ['mono'], says: 'mono', too: true },
  { words: ['loop', 'loops', 'looping', 'loopable', 'seamless'], says: 'loops', too: true },
  { words: ['music'], says: 'music', too: true },
  { words: ['ambience', 'ambiences'], says: 'ambience', too: true },
]
const BY_EXPRESSION = new Map(EXPRESSIONS.flatMap(({ words, says, too }) => words.map((one) => [one, { says, too }])))

/**
 * Conditions among plain words: "kettle under 2s", "pad between 60 and 90 bpm", "door no credit".
 *
 * @param words Neighbouring words, as they were typed. Of those that overlap the longer is taken.
 */
export function offeredConditions(words: readonly PlacedWord[]): OfferedCondition[] {
  const found: OfferedCondition[] = []
  for (let at = 0; at < words.length; ) {
    const offer = longestAt(words, at)
    if (offer) found.push(offer.condition)
    at += offer?.length ?? 1
  }
  return found
}

function longestAt(
  words: readonly PlacedWord[],
  at: number,
): { readonly condition: OfferedCondition; readonly length: number } | null {
  for (let length = Math.min(MAX_WORDS, words.length - at); length > 0; length--) {
    const run = words.slice(at, at + length)
    const text = run.map((word) => word.text).join(' ')
    const meant = meantBy(text.toLowerCase())
    const [first] = run
    const last = run.at(-1)
    if (meant === null || !first || !last) continue
    return { length, condition: { words: text, start: first.start, end: last.start + last.text.length, ...meant } }
  }
  return null
}

function meantBy(text: string): Pick<OfferedCondition, 'filter' | 'isSearchedToo'> | null {
  const expression = BY_EXPRESSION.get(text)
  const says = expression?.says ?? rangeMeantBy(text)
  const filter = says === null ? null : findFilter(says)
  return filter && { filter, isSearchedToo: expression?.too ?? false }
}

/** A length or a tempo in the words of a condition; null where it is none. A number without a unit says nothing. */
function rangeMeantBy(text: string): string | null {
  const [, lead, amount, unit] = ONE_SIDED.exec(text) ?? []
  const side = LEADS[lead?.trim() ?? '']
  const known = UNITS[unit ?? '']
  if (side && known) return `${side} ${amount} ${known}`
  const [, from, fromUnit, to, toUnit] = BETWEEN.exec(text) ?? []
  const last = UNITS[toUnit ?? '']
  const first = fromUnit === undefined ? last : UNITS[fromUnit]
  return last && first ? `${from} ${first} to ${to} ${last}` : null
}
