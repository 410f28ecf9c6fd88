import { type Clause, type ClauseKey, clauseOf, type Limit, type Terms, USE_PLACES } from './terms'
import { CLAUSE_WORDS } from './uses'

/** Terms in a few sentences that anyone understands. */
export interface PlainTerms {
  readonly may: readonly string[]
  readonly mayNot: readonly string[]
  readonly owed: readonly string[]
  /** Points that the text says nothing on, and that therefore are not allowed. */
  readonly silent: readonly string[]
}

const MAY: Readonly<Partial<Record<ClauseKey, string>>> = {
  online: 'publish it online',
  'paid-advertising': 'use it in paid advertising',
  'client-work': 'use it in work for a client',
  broadcast: 'broadcast it',
  cinema: 'show it in cinemas and at festivals',
  game: 'put it into a game or an app',
  'audio-only': 'publish it as sound alone',
  internal: 'use it inside your organisation and for teaching',
  earning: 'use it in a video that earns',
  modification: 'cut it and mix it under a picture',
  standalone: 'pass the sound on by itself',
  transfer: 'hand the finished video to a client',
}

/** Points that say what is allowed, in the order in which they are told. */
const PERMISSIONS: readonly ClauseKey[] = [...USE_PLACES, 'earning', 'modification', 'standalone', 'transfer']

/** Puts terms into plain words. The words never say more than the clauses do. */
export function plainTerms(terms: Terms): PlainTerms {
  const of = (answer: Clause['answer']): string[] =>
    PERMISSIONS.filter((key) => clauseOf(terms, key).answer === answer).map((key) => MAY[key] ?? CLAUSE_WORDS[key])
  const silent = (['territory', 'duration'] as const).filter((key) => clauseOf(terms, key).answer === 'not-stated')
  return {
    may: of('yes'),
    mayNot: of('no'),
    owed: [...of('duty').map((what) => `A condition has to be met before you ${what}.`), ...duties(terms)],
    silent: [...of('not-stated'), ...silent.map((key) => CLAUSE_WORDS[key].toLowerCase())],
  }
}

function duties(terms: Terms): string[] {
  const sentences: Readonly<Partial<Record<ClauseKey, string>>> = {
    credit: 'A credit is owed.',
    'share-alike': 'The whole video has to be published under the same licence.',
    territory: 'It does not hold everywhere.',
    projects: 'It holds for a number of videos only.',
    audience: 'It holds up to a size of the audience.',
    platforms: 'It holds on some platforms only.',
    registration: 'The video has to be registered with the issuer.',
    proof: 'Proof has to be kept.',
    seats: 'It holds for a number of people who work with it.',
    'video-length': 'It holds for videos up to a length.',
  }
  const owed = Object.entries(sentences).flatMap(([key, sentence]) => {
    const { answer, limit } = clauseOf(terms, key as ClauseKey)
    return answer === 'duty' ? [limit ? `${sentence.slice(0, -1)}: ${limitWords(limit)}.` : sentence] : []
  })
  return [...owed, ...durationWords(terms)]
}

function durationWords({ duration }: Terms): string[] {
  if (duration === 'published-while-active') return ['The video has to be first published while the plan runs.']
  if (duration === 'only-while-active') return ['The sound has to go when the plan ends.']
  return duration === 'until-date' ? ['It ends on a day.'] : []
}

/** A limit in words: "DE, AT", "1 video", "up to 500,000 people". */
export function limitWords(limit: Limit): string {
  switch (limit.kind) {
    case 'countries':
      return limit.codes.join(', ')
    case 'videos':
      return limit.max === 1 ? 'one video' : `${limit.max} videos`
    case 'people':
      return `up to ${limit.max.toLocaleString('en-GB')} people`
    case 'seats':
      return limit.max === 1 ? 'one person' : `up to ${limit.max.toLocaleString('en-GB')} people`
    case 'length':
      return `up to ${lengthLimitWords(limit.maxS)}`
    case 'platforms':
      return limit.names.join(', ')
    case 'until':
      return `until ${limit.day}`
    case 'credit':
      return limit.template ? `${limit.where}, as “${limit.template}”` : limit.where
  }
}

/** "90 seconds", "10 minutes". */
export function lengthLimitWords(lengthS: number): string {
  const isWhole = lengthS >= 60 && lengthS % 60 === 0
  const [count, unit] = isWhole ? [lengthS / 60, 'minute'] : [lengthS, 'second']
  return `${count.toLocaleString('en-GB')} ${unit}${count === 1 ? '' : 's'}`
}
