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
  const said = `The terms contradict themselves: they also say “${against}”. The stricter reading holds.`
  return { ...reason, sentence: `${reason.sentence} ${said}` }
}

/** What was declared and what lies beside it are both told; neither counts before someone has answered. */
function contradicted({ key, quote, where }: SaidBeside, { terms }: Papers): Reason {
  return {
    key,
    effect: 'bars',
    sentence: `It was declared to be under ${terms.title}, and ${where}, which lies with the file, says otherwise on ${SUBJECTS[key]}. That is not answered yet.`,
    quote,
    beside: where,
  }
}

function noPlace(): Reason {
  return {
    key: 'online',
    effect: 'unstated',
    sentence: 'Nothing says yet where the video will be published.',
    quote: null,
  }
}

const SUBJECTS: Readonly<Record<ClauseKey, string>> = {
  online: 'publishing online',
  'paid-advertising': 'paid advertising',
  'client-work': 'work for a client',
  broadcast: 'broadcast',
  cinema: 'cinema and festivals',
  game: 'a game or an app',
  'audio-only': 'publishing sound alone',
  internal: 'internal use and teaching',
  earning: 'a video that earns',
  modification: 'cutting and mixing it under a picture',
  credit: 'a credit',
  'share-alike': 'the licence of the video',
  territory: 'the territory',
  duration: 'how long it holds',
  standalone: 'passing the sound on by itself',
  transfer: 'handing the video to a client',
  projects: 'another video',
  audience: 'an audience of this size',
  platforms: 'this platform',
  registration: 'a video that is not registered',
  proof: 'use without proof',
  seats: 'several people who work with it',
  'video-length': 'a video of this length',
}

function permission({ terms, met }: Papers, key: ClauseKey): Reason {
  const { answer, quote } = clauseOf(terms, key)
  const name = terms.title
  const subject = SUBJECTS[key]
  if (answer === 'duty' && met?.includes(key))
    return { key, effect: 'allows', sentence: `${name} allows ${subject}; its condition is met, on record.`, quote }
  const sentences: Readonly<Record<ClauseAnswer, string>> = {
    yes: `${name} allows ${subject}.`,
    duty: `${name} allows ${subject} on a condition that has to be met first.`,
    no: `${name} does not allow ${subject}.`,
    'not-stated': `${name} does not say whether it allows ${subject}; what is not stated is not allowed.`,
  }
  const effects = { yes: 'allows', duty: 'bars', no: 'bars', 'not-stated': 'unstated' } as const
  return { key, effect: effects[answer], sentence: sentences[answer], quote }
}

function territory(terms: Terms, uses: Uses): Reason {
  const { answer, quote, limit } = clauseOf(terms, 'territory')
  const reason = reasonMaker('territory', quote)
  if (answer === 'yes') return reason('allows', `${terms.title} holds in every territory.`)
  if (answer === 'not-stated')
    return reason('unstated', `${terms.title} does not say where it holds; what is not stated is not allowed.`)
  if (answer === 'no' || limit?.kind !== 'countries')
    return reason('bars', `${terms.title} does not hold in every territory, and it is not plain in which.`)
  const list = limit.codes.join(', ')
  if (uses.territory === 'worldwide')
    return reason('bars', `${terms.title} holds in ${list} only, and the video is published worldwide.`)
  const outside = uses.territory.split(',').filter((code) => !limit.codes.includes(code))
  return outside.length > 0
    ? reason('bars', `${terms.title} holds in ${list} only, not in ${outside.join(', ')}.`)
    : reason('allows', `${terms.title} holds in ${uses.territory.split(',').join(', ')}.`)
}

function shareAlike(terms: Terms, uses: Uses): Reason {
  const { answer, quote } = clauseOf(terms, 'share-alike')
  const reason = reasonMaker('share-alike', quote)
  if (answer === 'yes') return reason('allows', `${terms.title} leaves the licence of the video to you.`)
  if (answer === 'no') return reason('bars', `${terms.title} does not allow ${SUBJECTS['share-alike']}.`)
  if (answer === 'not-stated')
    return reason('unstated', `${terms.title} does not say whether the licence of the video is yours to choose.`)
  return uses.videoLicence !== null && uses.videoLicence === terms.spdxId
    ? reason('asks', `The whole video has to be published under ${terms.title}, and it is.`)
    : reason('bars', `The whole video would have to be published under ${terms.title}, and it is not.`)
}

function credit(terms: Terms): Reason {
  const { answer, quote, limit } = clauseOf(terms, 'credit')
  const reason = reasonMaker('credit', quote)
  if (answer === 'yes')
    return reason(
      'allows',
      limit?.kind === 'credit' && !limit.owed
        ? `${terms.title} is glad of a credit; none is owed.`
        : `${terms.title} asks for no credit.`,
    )
  if (answer === 'duty') return reason('asks', `${terms.title} asks for a credit in the description.`)
  // Where nothing is said about a credit it is owed, to be on the safe side.
  return reason('asks', `${terms.title} does not say whether a credit is owed, so one is given.`)
}

function duration(
  { terms, grantTitle, planFrom, planUntil, acquiredOn }: Papers,
  { uses, asOf }: DecisionContext,
): Reason {
  const { quote, limit } = clauseOf(terms, 'duration')
  const reason = reasonMaker('duration', quote)
  const from = acquiredOn ?? asOf
  if (uses.publishOn !== null && uses.publishOn < from && !coversEarlierVideos(terms))
    return reason(
      'bars',
      `The video was published on ${uses.publishOn}, before this was acquired on ${from}, and ${terms.title} does not say that it covers earlier videos.`,
    )
  if (terms.duration === 'not-stated' || quote === null)
    return reason('unstated', `${terms.title} does not say how long it holds.`)
  if (terms.duration === 'for-ever') return reason('allows', `${terms.title} holds for ever.`)
  if (terms.duration === 'until-date') return untilDay(terms, limit, { asOf, publishOn: uses.publishOn, reason })
  if (planFrom === null || planUntil === null)
    return reason('unstated', `No plan period is on file for this copy (${grantTitle}).`)
  if (uses.publishOn === null)
    return reason('unstated', `Set the publish date: ${grantTitle} covers ${planFrom} to ${planUntil}.`)
  if (uses.publishOn < planFrom || uses.publishOn > planUntil)
    return reason(
      'bars',
      `The video is published on ${uses.publishOn}, outside ${grantTitle} (${planFrom} to ${planUntil}).`,
    )
  if (terms.duration === 'published-while-active')
    return reason('allows', `Published on ${uses.publishOn}, while ${grantTitle} runs: it stays cleared.`)
  return asOf > planUntil
    ? reason('bars', `${grantTitle} ended on ${planUntil}, and the sound had to go with it.`)
    : reason('allows', `${grantTitle} runs until ${planUntil}; after that the sound has to go.`)
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
  if (limit?.kind !== 'until' || !isDay(limit.day))
    return reason('unstated', `${terms.title} ends on a day that is not on file.`)
  if (publishOn === null) return reason('unstated', `Set the publish date: ${terms.title} ends on ${limit.day}.`)
  const [, last] = [publishOn, asOf].sort() as [string, string]
  return last > limit.day
    ? reason('bars', `${terms.title} ended on ${limit.day}; on ${last} it does not hold.`)
    : reason('allows', `${terms.title} holds until ${limit.day}.`)
}

/** Points that only restrict: where the terms are silent on one, there is nothing to meet and no reason is given. */
function restrictions(papers: Papers, context: DecisionContext): Reason[] {
  const { uses } = context
  const asked = (key: ClauseKey, weigh: (clause: Clause) => Reason): Reason[] => {
    const clause = clauseOf(papers.terms, key)
    const { answer, quote } = clause
    if (answer === 'not-stated' || answer === 'yes') return []
    if (answer === 'no')
      return [{ key, effect: 'bars', sentence: `${papers.terms.title} does not allow ${SUBJECTS[key]}.`, quote }]
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
    return reason('unstated', `${terms.title} limits the number of videos, and it is not plain to how many.`)
  const { max } = clause.limit
  const number = max === 1 ? 'one video' : `${max} videos`
  // Only as many videos count as the terms allow, in the order in which they were named.
  if (videoId !== null && boundTo.slice(0, max).includes(videoId))
    return reason('allows', `${grantTitle} covers ${number}, and this is ${max === 1 ? 'the one' : 'one of them'}.`)
  if (videoId === null) return reason('unstated', `${grantTitle} covers ${number}; say for which video you ask.`)
  return boundTo.length >= max
    ? reason('bars', `${grantTitle} covers ${number}, and ${max === 1 ? 'that is another one' : 'all are named'}.`)
    : reason(
        'unstated',
        `${grantTitle} covers ${number}; it is not on record that this is ${max === 1 ? 'the one' : 'one of them'}.`,
      )
}

function audience(terms: Terms, clause: Clause, uses: Uses): Reason {
  const reason = reasonMaker('audience', clause.quote)
  if (clause.limit?.kind !== 'people' || !isCount(clause.limit.max))
    return reason('unstated', `${terms.title} limits the audience, and it is not plain to how many.`)
  const max = clause.limit.max.toLocaleString('en-GB')
  const people = uses.audience ?? null
  if (people === null || !isCount(people))
    return reason('unstated', `${terms.title} holds up to ${max} people; say how many are expected.`)
  return people > clause.limit.max
    ? reason('bars', `${terms.title} holds up to ${max} people; ${people.toLocaleString('en-GB')} are expected.`)
    : reason('allows', `${terms.title} holds up to ${max} people.`)
}

function seats(terms: Terms, clause: Clause, uses: Uses): Reason {
  const reason = reasonMaker('seats', clause.quote)
  if (clause.limit?.kind !== 'seats' || !isCount(clause.limit.max))
    return reason('unstated', `${terms.title} limits who may work with it, and it is not plain to how many.`)
  const { max } = clause.limit
  const number = max === 1 ? 'one person who works with it' : `${max} people who work with it`
  const people = uses.seats ?? null
  if (people === null || !isCount(people))
    return reason('unstated', `${terms.title} holds for ${number}; say how many work on the video.`)
  return people > max
    ? reason('bars', `${terms.title} holds for ${number}; ${people} work on the video.`)
    : reason('allows', `${terms.title} holds for ${number}.`)
}

function videoLength(terms: Terms, clause: Clause, { videoLengthS = null }: DecisionContext): Reason {
  const reason = reasonMaker('video-length', clause.quote)
  if (clause.limit?.kind !== 'length' || !isCount(clause.limit.maxS))
    return reason('unstated', `${terms.title} limits the length of the video, and it is not plain to what.`)
  const most = lengthLimitWords(clause.limit.maxS)
  if (videoLengthS === null || !isCount(videoLengthS))
    return reason('unstated', `${terms.title} holds for videos up to ${most}; the finished video is not known yet.`)
  return videoLengthS > clause.limit.maxS
    ? reason(
        'bars',
        `${terms.title} holds for videos up to ${most}; this one is ${Math.ceil(videoLengthS)} seconds long.`,
      )
    : reason('allows', `${terms.title} holds for videos up to ${most}.`)
}

function platforms(terms: Terms, clause: Clause, uses: Uses): Reason {
  const reason = reasonMaker('platforms', clause.quote)
  if (clause.limit?.kind !== 'platforms')
    return reason('unstated', `${terms.title} is limited to some platforms, and it is not plain to which.`)
  const allowed = new Set(clause.limit.names.map((name) => name.toLowerCase()))
  const list = clause.limit.names.join(', ')
  const named = uses.platforms ?? []
  if (named.length === 0)
    return reason('unstated', `${terms.title} holds on ${list} only; say on which platforms the video is published.`)
  const outside = named.filter((name) => !allowed.has(name.toLowerCase()))
  return outside.length > 0
    ? reason('bars', `${terms.title} holds on ${list} only, not on ${outside.join(', ')}.`)
    : reason('allows', `${terms.title} holds on ${list}.`)
}

function registration({ terms, met = [] }: Papers, { quote }: Clause): Reason {
  const reason = reasonMaker('registration', quote)
  return met.includes('registration')
    ? reason('allows', `The video is registered with the issuer of ${terms.title}, on record.`)
    : reason('bars', `${terms.title} asks for the video to be registered with its issuer first.`)
}

function proof({ terms, hasProof = false }: Papers, { quote }: Clause): Reason {
  const reason = reasonMaker('proof', quote)
  return hasProof
    ? reason('allows', `${terms.title} asks for proof, and it is on file.`)
    : reason('unstated', `${terms.title} asks for proof, and none is on file: attach the receipt.`)
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
