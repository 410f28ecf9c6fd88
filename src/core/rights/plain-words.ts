import { rights as messages } from '../wording/rights'
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
  online: messages.publishItOnline,
  'paid-advertising': messages.useItInPaidAdvertising,
  'client-work': messages.useInWorkForClient,
  broadcast: messages.broadcastIt,
  cinema: messages.showInCinemasAndAt,
  game: messages.putIntoGameOrApp,
  'audio-only': messages.publishItAsSoundAlone,
  internal: messages.useInsideYourOrganisationAnd,
  earning: messages.useInVideoThatEarns,
  modification: messages.cutAndMixUnderPicture,
  standalone: messages.passSoundOnByItself,
  transfer: messages.handFinishedVideoClient,
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
    owed: [...of('duty').map((what) => messages.conditionHasBeMetBefore(what)), ...duties(terms)],
    silent: [...of('not-stated'), ...silent.map((key) => CLAUSE_WORDS[key].toLowerCase())],
  }
}

function duties(terms: Terms): string[] {
  const sentences: Readonly<Partial<Record<ClauseKey, string>>> = {
    credit: messages.aCreditIsOwed,
    'share-alike': messages.wholeVideoHasBePublished,
    territory: messages.itDoesNotHoldEverywhere,
    projects: messages.holdsForNumberVideosOnly,
    audience: messages.holdsUpSizeAudience,
    platforms: messages.holdsOnSomePlatformsOnly,
    registration: messages.videoHasBeRegisteredWith,
    proof: messages.proofHasToBeKept,
    seats: messages.holdsForNumberPeopleWho,
    'video-length': messages.holdsForVideosUpLength,
  }
  const owed = Object.entries(sentences).flatMap(([key, sentence]) => {
    const { answer, limit } = clauseOf(terms, key as ClauseKey)
    return answer === 'duty' ? [limit ? `${sentence.slice(0, -1)}: ${limitWords(limit)}.` : sentence] : []
  })
  return [...owed, ...durationWords(terms)]
}

function durationWords({ duration }: Terms): string[] {
  if (duration === 'published-while-active') return [messages.videoHasBeFirstPublished]
  if (duration === 'only-while-active') return [messages.soundHasGoWhenPlan]
  return duration === 'until-date' ? [messages.itEndsOnADay] : []
}

/** A limit in words: "DE, AT", "1 video", "up to 500,000 people". */
export function limitWords(limit: Limit): string {
  switch (limit.kind) {
    case 'countries':
      return limit.codes.join(', ')
    case 'videos':
      return limit.max === 1 ? messages.oneVideo : `${limit.max} videos`
    case 'people':
      return messages.upToPeople(limit.max.toLocaleString('en-GB'))
    case 'seats':
      return limit.max === 1 ? messages.onePerson : messages.upToPeople(limit.max.toLocaleString('en-GB'))
    case 'length':
      return messages.upTo(lengthLimitWords(limit.maxS))
    case 'platforms':
      return limit.names.join(', ')
    case 'until':
      return `until ${limit.day}`
    case 'credit':
      return limit.template ? messages.as(limit.where, limit.template) : limit.where
  }
}

/** "90 seconds", "10 minutes". */
export function lengthLimitWords(lengthS: number): string {
  const isWhole = lengthS >= 60 && lengthS % 60 === 0
  const [count, unit] = isWhole ? [lengthS / 60, 'minute'] : [lengthS, 'second']
  return `${count.toLocaleString('en-GB')} ${unit}${count === 1 ? '' : 's'}`
}
