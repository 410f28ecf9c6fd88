import { rights as messages } from '../wording/rights'
import { KNOWN_LICENCES } from './known-licences'
import { OWN_WORK } from './own-work'
import type { DecisionContext, Papers, SaidBeside } from './papers'
import { lengthLimitWords } from './plain-words'
import { type Clause, type ClauseAnswer, type ClauseKey, clauseOf, type Limit, type Terms } from './terms'
import { isEarningUse, isForClient, type Uses } from './uses'

/** How one point of the terms bears on the uses. */
export interface Reason {
  readonly key: ClauseKey
  /** "bars" and "unstated" both keep the sound from being clear. */
  readonly effect: 'allows' | 'asks' | 'bars' | 'unstated'
  /** A whole sentence in plain words. */
  readonly sentence: string
  /** The words of the terms, or null where they say nothing. */
  readonly quote: string | null
  /** Where the words stand that contradict what was declared; only where that is the reason. */
  readonly beside?: string
}

/** Every point of one paper that bears on the uses, in the order of the points. */
export function reasonsOf(papers: Papers, context: DecisionContext): Reason[] {
  const { terms } = papers
  const { uses } = context
  const forClient = isForClient(uses)
  const keys: ClauseKey[] = [
    ...uses.places,
    ...(forClient && !uses.places.includes('client-work') ? (['client-work'] as const) : []),
    ...(isEarningUse(uses) ? (['earning'] as const) : []),
    'modification',
    ...(forClient ? (['transfer'] as const) : []),
  ]
  const reasons = [
    ...(papers.contradictedBy ? [contradicted(papers.contradictedBy, papers)] : []),
    ...(uses.places.length === 0 ? [noPlace()] : []),
    ...keys.map((key) => permission(papers, key)),
    territory(terms, uses),
    shareAlike(terms, uses),
    credit(terms),
    duration(papers, context),
    ...restrictions(papers, context),
  ]
  return reasons.map((reason) => withContradiction(reason, terms))
}

/** Terms that contradict themselves on a point are quoted on both sides. */
function withContradiction(reason: Reason, terms: Terms): Reason {
  const { against } = clauseOf(terms, reason.key)
  if (against === undefined) return reason
  const said = messages.termsContradictThemselvesTheyAlso(against)
  return { ...reason, sentence: `${reason.sentence} ${said}` }
}

/** What was declared and what lies beside it are both told; neither counts before someone has answered. */
function contradicted({ key, quote, where }: SaidBeside, { terms }: Papers): Reason {
  return {
    key,
    effect: 'bars',
    sentence: messages.wasDeclaredBeUnderAnd(terms.title, where, SUBJECTS[key]),
    quote,
    beside: where,
  }
}

function noPlace(): Reason {
  return {
    key: 'online',
    effect: 'unstated',
    sentence: messages.nothingSaysYetWhereVideo,
    quote: null,
  }
}

const SUBJECTS: Readonly<Record<ClauseKey, string>> = {
  online: messages.publishingOnline,
  'paid-advertising': messages.paidAdvertising2,
  'client-work': messages.workForAClient,
  broadcast: 'broadcast',
  cinema: messages.cinemaAndFestivals2,
  game: messages.aGameOrAnApp,
  'audio-only': messages.publishingSoundAlone,
  internal: messages.internalUseAndTeaching,
  earning: messages.aVideoThatEarns2,
  modification: messages.cuttingAndMixingUnderPicture2,
  credit: messages.aCredit,
  'share-alike': messages.theLicenceOfTheVideo,
  territory: messages.theTerritory,
  duration: messages.howLongItHolds2,
  standalone: messages.passingSoundOnByItself2,
  transfer: messages.handingVideoClient2,
  projects: messages.anotherVideo,
  audience: messages.anAudienceOfThisSize,
  platforms: messages.thisPlatform,
  registration: messages.videoThatNotRegistered,
  proof: messages.useWithoutProof,
  seats: messages.severalPeopleWhoWorkWith,
  'video-length': messages.aVideoOfThisLength,
}

function permission({ terms, met }: Papers, key: ClauseKey): Reason {
  const { answer, quote } = clauseOf(terms, key)
  const name = terms.title
  const subject = SUBJECTS[key]
  if (answer === 'duty' && met?.includes(key))
    return { key, effect: 'allows', sentence: messages.allowsConditionMetOnRecord(name, subject), quote }
  const sentences: Readonly<Record<ClauseAnswer, string>> = {
    yes: `${name} allows ${subject}.`,
    duty: messages.allowsOnConditionThatHas(name, subject),
    no: messages.doesNotAllow(name, subject),
    'not-stated': messages.doesNotSayWhetherAllows(name, subject),
  }
  const effects = { yes: 'allows', duty: 'bars', no: 'bars', 'not-stated': 'unstated' } as const
  return { key, effect: effects[answer], sentence: sentences[answer], quote }
}

function territory(terms: Terms, uses: Uses): Reason {
  const { answer, quote, limit } = clauseOf(terms, 'territory')
  const reason = reasonMaker('territory', quote)
  if (answer === 'yes') return reason('allows', messages.holdsInEveryTerritory(terms.title))
  if (answer === 'not-stated') return reason('unstated', messages.doesNotSayWhereHolds(terms.title))
  if (answer === 'no' || limit?.kind !== 'countries') return reason('bars', messages.doesNotHoldInEvery(terms.title))
  const list = limit.codes.join(', ')
  if (uses.territory === 'worldwide') return reason('bars', messages.holdsInOnlyAndVideo(terms.title, list))
  const outside = uses.territory.split(',').filter((code) => !limit.codes.includes(code))
  return outside.length > 0
    ? reason('bars', messages.holdsInOnlyNotIn(terms.title, list, outside.join(', ')))
    : reason('allows', messages.holdsIn(terms.title, uses.territory.split(',').join(', ')))
}

function shareAlike(terms: Terms, uses: Uses): Reason {
  const { answer, quote } = clauseOf(terms, 'share-alike')
  const reason = reasonMaker('share-alike', quote)
  if (answer === 'yes') return reason('allows', messages.leavesLicenceVideoYou(terms.title))
  if (answer === 'no') return reason('bars', messages.doesNotAllow2(terms.title, SUBJECTS['share-alike']))
  if (answer === 'not-stated') return reason('unstated', messages.doesNotSayWhetherLicence(terms.title))
  return uses.videoLicence !== null && uses.videoLicence === terms.spdxId
    ? reason('asks', messages.wholeVideoHasBePublishedUnder(terms.title))
    : reason('bars', messages.wholeVideoWouldHaveBe(terms.title))
}

function credit(terms: Terms): Reason {
  const { answer, quote, limit } = clauseOf(terms, 'credit')
  const reason = reasonMaker('credit', quote)
  if (answer === 'yes')
    return reason(
      'allows',
      limit?.kind === 'credit' && !limit.owed
        ? messages.gladCreditNoneOwed(terms.title)
        : messages.asksForNoCredit(terms.title),
    )
  if (answer === 'duty') return reason('asks', messages.asksForCreditInDescription(terms.title))
  // Where nothing is said about a credit it is owed, to be on the safe side.
  return reason('asks', messages.doesNotSayWhetherCredit(terms.title))
}

function duration(
  { terms, grantTitle, planFrom, planUntil, acquiredOn }: Papers,
  { uses, asOf }: DecisionContext,
): Reason {
  const { quote, limit } = clauseOf(terms, 'duration')
  const reason = reasonMaker('duration', quote)
  const from = acquiredOn ?? asOf
  if (uses.publishOn !== null && uses.publishOn < from && !coversEarlierVideos(terms))
    return reason('bars', messages.videoWasPublishedOnBefore(uses.publishOn, from, terms.title))
  if (terms.duration === 'not-stated' || quote === null)
    return reason('unstated', messages.doesNotSayHowLong(terms.title))
  if (terms.duration === 'for-ever') return reason('allows', messages.holdsForEver(terms.title))
  if (terms.duration === 'until-date') return untilDay(terms, limit, { asOf, publishOn: uses.publishOn, reason })
  if (planFrom === null || planUntil === null)
    return reason('unstated', `No plan period is on file for this copy (${grantTitle}).`)
  if (uses.publishOn === null) return reason('unstated', messages.setPublishDateCovers(grantTitle, planFrom, planUntil))
  if (uses.publishOn < planFrom || uses.publishOn > planUntil)
    return reason(
      'bars',
      `The video is published on ${uses.publishOn}, outside ${grantTitle} (${planFrom} to ${planUntil}).`,
    )
  if (terms.duration === 'published-while-active')
    return reason('allows', messages.publishedOnWhileRunsStays(uses.publishOn, grantTitle))
  return asOf > planUntil
    ? reason('bars', messages.endedOnAndSoundHad(grantTitle, planUntil))
    : reason('allows', messages.runsUntilAfterThatSound(grantTitle, planUntil))
}

/** A licence that is open to everyone holds whenever a copy was taken; so does the word of the one who made the recording. */
export function coversEarlierVideos({ spdxId, shortTitle, title }: Terms): boolean {
  const isOwn = spdxId === null && shortTitle === OWN_WORK.shortTitle && title === OWN_WORK.title
  return isOwn || (spdxId !== null && KNOWN_LICENCES.has(spdxId))
}

function untilDay(
  terms: Terms,
  limit: Limit | undefined,
  now: { asOf: string; publishOn: string | null; reason: ReturnType<typeof reasonMaker> },
): Reason {
  const { asOf, publishOn, reason } = now
  if (limit?.kind !== 'until' || !isDay(limit.day)) return reason('unstated', messages.endsOnDayThatNot(terms.title))
  if (publishOn === null) return reason('unstated', messages.setPublishDateEndsOn(terms.title, limit.day))
  const [, last] = [publishOn, asOf].sort() as [string, string]
  return last > limit.day
    ? reason('bars', messages.endedOnOnDoesNot(terms.title, limit.day, last))
    : reason('allows', messages.holdsUntil(terms.title, limit.day))
}

/** Points that only restrict: where the terms are silent on one, there is nothing to meet and no reason is given. */
function restrictions(papers: Papers, context: DecisionContext): Reason[] {
  const { uses } = context
  const asked = (key: ClauseKey, weigh: (clause: Clause) => Reason): Reason[] => {
    const clause = clauseOf(papers.terms, key)
    const { answer, quote } = clause
    if (answer === 'not-stated' || answer === 'yes') return []
    if (answer === 'no')
      return [{ key, effect: 'bars', sentence: messages.doesNotAllow2(papers.terms.title, SUBJECTS[key]), quote }]
    return [weigh(clause)]
  }
  return [
    ...asked('projects', (clause) => projects(papers, clause, context)),
    ...asked('audience', (clause) => audience(papers.terms, clause, uses)),
    ...asked('platforms', (clause) => platforms(papers.terms, clause, uses)),
    ...asked('registration', (clause) => registration(papers, clause)),
    ...asked('proof', (clause) => proof(papers, clause)),
    ...asked('seats', (clause) => seats(papers.terms, clause, uses)),
    ...asked('video-length', (clause) => videoLength(papers.terms, clause, context)),
  ]
}

function projects(
  { terms, boundTo = [], grantTitle }: Papers,
  clause: Clause,
  { videoId = null }: DecisionContext,
): Reason {
  const reason = reasonMaker('projects', clause.quote)
  if (clause.limit?.kind !== 'videos' || !isCount(clause.limit.max))
    return reason('unstated', messages.limitsNumberVideosAndNot(terms.title))
  const { max } = clause.limit
  const number = max === 1 ? messages.oneVideo : `${max} videos`
  // Only as many videos count as the terms allow, in the order in which they were named.
  if (videoId !== null && boundTo.slice(0, max).includes(videoId))
    return reason('allows', messages.coversAndThisIs(grantTitle, number, max))
  if (videoId === null) return reason('unstated', messages.coversSayForWhichVideo(grantTitle, number))
  return boundTo.length >= max
    ? reason('bars', messages.coversOthers(grantTitle, number, max))
    : reason('unstated', messages.coversNotOnRecordThat(grantTitle, number, max))
}

function audience(terms: Terms, clause: Clause, uses: Uses): Reason {
  const reason = reasonMaker('audience', clause.quote)
  if (clause.limit?.kind !== 'people' || !isCount(clause.limit.max))
    return reason('unstated', messages.limitsAudienceAndNotPlain(terms.title))
  const max = clause.limit.max.toLocaleString('en-GB')
  const people = uses.audience ?? null
  if (people === null || !isCount(people)) return reason('unstated', messages.holdsUpPeopleSayHow(terms.title, max))
  return people > clause.limit.max
    ? reason('bars', messages.holdsUpPeopleAreExpected(terms.title, max, people.toLocaleString('en-GB')))
    : reason('allows', messages.holdsUpToPeople(terms.title, max))
}

function seats(terms: Terms, clause: Clause, uses: Uses): Reason {
  const reason = reasonMaker('seats', clause.quote)
  if (clause.limit?.kind !== 'seats' || !isCount(clause.limit.max))
    return reason('unstated', messages.limitsWhoMayWorkWith(terms.title))
  const { max } = clause.limit
  const number = max === 1 ? messages.onePersonWhoWorksWith : messages.peopleWhoWorkWithIt2(max)
  const people = uses.seats ?? null
  if (people === null || !isCount(people)) return reason('unstated', messages.holdsForSayHowMany(terms.title, number))
  return people > max
    ? reason('bars', messages.holdsForWorkOnVideo(terms.title, number, people))
    : reason('allows', messages.holdsFor(terms.title, number))
}

function videoLength(terms: Terms, clause: Clause, { videoLengthS = null }: DecisionContext): Reason {
  const reason = reasonMaker('video-length', clause.quote)
  if (clause.limit?.kind !== 'length' || !isCount(clause.limit.maxS))
    return reason('unstated', messages.limitsLengthVideoAndNot(terms.title))
  const most = lengthLimitWords(clause.limit.maxS)
  if (videoLengthS === null || !isCount(videoLengthS))
    return reason('unstated', messages.holdsForVideosUpFinished(terms.title, most))
  return videoLengthS > clause.limit.maxS
    ? reason('bars', messages.holdsForVideosUpThis(terms.title, most, Math.ceil(videoLengthS)))
    : reason('allows', messages.holdsForVideosUpTo(terms.title, most))
}

function platforms(terms: Terms, clause: Clause, uses: Uses): Reason {
  const reason = reasonMaker('platforms', clause.quote)
  if (clause.limit?.kind !== 'platforms') return reason('unstated', messages.limitedSomePlatformsAndNot(terms.title))
  const allowed = new Set(clause.limit.names.map((name) => name.toLowerCase()))
  const list = clause.limit.names.join(', ')
  const named = uses.platforms ?? []
  if (named.length === 0) return reason('unstated', messages.holdsOnOnlySayOn(terms.title, list))
  const outside = named.filter((name) => !allowed.has(name.toLowerCase()))
  return outside.length > 0
    ? reason('bars', messages.holdsOnOnlyNotOn(terms.title, list, outside.join(', ')))
    : reason('allows', messages.holdsOn(terms.title, list))
}

function registration({ terms, met = [] }: Papers, { quote }: Clause): Reason {
  const reason = reasonMaker('registration', quote)
  return met.includes('registration')
    ? reason('allows', messages.videoRegisteredWithIssuerOn(terms.title))
    : reason('bars', messages.asksForVideoBeRegistered(terms.title))
}

function proof({ terms, hasProof = false }: Papers, { quote }: Clause): Reason {
  const reason = reasonMaker('proof', quote)
  return hasProof
    ? reason('allows', messages.asksForProofAndOn(terms.title))
    : reason('unstated', messages.asksForProofAndNone(terms.title))
}

/** A measure that is no number, or none above nothing, measures nothing. */
function isCount(value: number): boolean {
  return Number.isFinite(value) && value > 0
}

function isDay(day: string): boolean {
  return /^\d{4}-\d\d-\d\d$/.test(day) && !Number.isNaN(Date.parse(day))
}

function reasonMaker(key: ClauseKey, quote: string | null) {
  return (effect: Reason['effect'], sentence: string): Reason => ({ key, effect, sentence, quote })
}
