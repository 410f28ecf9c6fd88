import { type ClauseAnswer, type ClauseKey, clauseOf, type Terms } from './terms'
import { CLAUSE_WORDS, isEarningUse, USE_PLACE_WORDS, type Uses } from './uses'

/** What shows that a copy may be used: a terms version and the grant made under it. */
export interface Papers {
  readonly terms: Terms
  /** Name of the plan, order or "free licence" that the copy was acquired under. */
  readonly grantTitle: string
  /** Period of the plan, YYYY-MM-DD, where the grant hangs on one. */
  readonly planFrom: string | null
  readonly planUntil: string | null
}

/** The verdict on a heard sound. */
export type Verdict = 'clear' | 'owes-credit' | 'no-papers' | 'not-allowed'

/** How one point of the terms bears on the uses. */
export interface Reason {
  readonly key: ClauseKey
  /** "bars" and "unstated" both keep the sound from being clear. */
  readonly effect: 'allows' | 'asks' | 'bars' | 'unstated'
  /** A whole sentence in plain words. */
  readonly sentence: string
  /** The words of the terms, or null where they say nothing. */
  readonly quote: string | null
}

/** The answer to "may I?", with its grounds. */
export interface Decision {
  readonly verdict: Verdict
  readonly reasons: readonly Reason[]
  /** What the maker of the video still has to do. */
  readonly duties: readonly ('credit' | 'share-alike')[]
}

const VERDICT_RANK: Readonly<Record<Verdict, number>> = { clear: 0, 'owes-credit': 1, 'not-allowed': 2, 'no-papers': 3 }

/**
 * Decides whether a sound may be used, from all papers that are on file for it.
 *
 * The best of several papers counts. A point that the terms do not state never gives "clear".
 *
 * @returns "no-papers" with no reasons when the list is empty.
 */
export function decide({ uses, papers }: { readonly uses: Uses; readonly papers: readonly Papers[] }): Decision {
  const decisions = papers.map((paper) => decidedByTerms(uses, paper))
  return decisions.reduce<Decision>(
    (best, next) => (VERDICT_RANK[next.verdict] < VERDICT_RANK[best.verdict] ? next : best),
    decisions[0] ?? { verdict: 'no-papers', reasons: [], duties: [] },
  )
}

/** Weighs the uses against one paper, point by point. */
export function decidedByTerms(uses: Uses, papers: Papers): Decision {
  const { terms } = papers
  const keys: ClauseKey[] = [
    ...uses.places,
    ...(isEarningUse(uses) ? (['earning'] as const) : []),
    'modification',
    'territory',
  ]
  const reasons = [
    ...(uses.places.length === 0 ? [noPlace()] : []),
    ...keys.map((key) => plainReason(terms, key)),
    shareAlikeReason(terms, uses),
    creditReason(terms),
    durationReason(papers, uses),
  ]
  const barred = reasons.some(({ effect }) => effect === 'bars' || effect === 'unstated')
  const asksCredit = reasons.some(({ key, effect }) => key === 'credit' && effect === 'asks')
  const asksSame = reasons.some(({ key, effect }) => key === 'share-alike' && effect === 'asks')
  return {
    verdict: barred ? 'not-allowed' : asksCredit ? 'owes-credit' : 'clear',
    reasons: [...reasons].sort((a, b) => EFFECT_RANK[a.effect] - EFFECT_RANK[b.effect]),
    duties: [...(asksCredit ? (['credit'] as const) : []), ...(asksSame ? (['share-alike'] as const) : [])],
  }
}

const EFFECT_RANK: Readonly<Record<Reason['effect'], number>> = { bars: 0, unstated: 1, asks: 2, allows: 3 }

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
}

function plainReason(terms: Terms, key: ClauseKey): Reason {
  const { answer, quote } = clauseOf(terms, key)
  const name = `${terms.title}`
  const subject = SUBJECTS[key]
  const sentences: Readonly<Record<ClauseAnswer, string>> = {
    yes: key === 'territory' ? `${name} holds in every territory.` : `${name} allows ${subject}.`,
    duty: `${name} allows ${subject} on a condition that has to be met first.`,
    no: `${name} does not allow ${subject}.`,
    'not-stated': `${name} does not say whether it allows ${subject}; what is not stated is not allowed.`,
  }
  const effects = { yes: 'allows', duty: 'bars', no: 'bars', 'not-stated': 'unstated' } as const
  return { key, effect: effects[answer], sentence: sentences[answer], quote }
}

function shareAlikeReason(terms: Terms, uses: Uses): Reason {
  const { answer, quote } = clauseOf(terms, 'share-alike')
  if (answer !== 'duty')
    return answer === 'yes'
      ? {
          key: 'share-alike',
          effect: 'allows',
          sentence: `${terms.title} leaves the licence of the video to you.`,
          quote,
        }
      : plainReason(terms, 'share-alike')
  const same = uses.videoLicence !== null && uses.videoLicence === terms.spdxId
  return {
    key: 'share-alike',
    effect: same ? 'asks' : 'bars',
    sentence: same
      ? `The whole video has to be published under ${terms.title}, and it is.`
      : `The whole video would have to be published under ${terms.title}, and it is not.`,
    quote,
  }
}

function creditReason(terms: Terms): Reason {
  const { answer, quote } = clauseOf(terms, 'credit')
  if (answer === 'duty')
    return { key: 'credit', effect: 'asks', sentence: `${terms.title} asks for a credit in the description.`, quote }
  if (answer === 'yes')
    return { key: 'credit', effect: 'allows', sentence: `${terms.title} asks for no credit.`, quote }
  // Where nothing is said about a credit it is owed, to be on the safe side.
  return {
    key: 'credit',
    effect: 'asks',
    sentence: `${terms.title} does not say whether a credit is owed, so one is given.`,
    quote,
  }
}

function durationReason({ terms, grantTitle, planFrom, planUntil }: Papers, uses: Uses): Reason {
  const { quote } = clauseOf(terms, 'duration')
  const reason = (effect: Reason['effect'], sentence: string): Reason => ({ key: 'duration', effect, sentence, quote })
  if (terms.duration === 'not-stated' || quote === null)
    return reason('unstated', `${terms.title} does not say how long it holds.`)
  if (terms.duration === 'for-ever') return reason('allows', `${terms.title} holds for ever.`)
  if (planFrom === null || planUntil === null)
    return reason('unstated', `No plan period is on file for this copy (${grantTitle}).`)
  if (uses.publishOn === null)
    return reason('unstated', `Set the publish date: ${grantTitle} covers ${planFrom} to ${planUntil}.`)
  const within = uses.publishOn >= planFrom && uses.publishOn <= planUntil
  if (!within)
    return reason(
      'bars',
      `The video is published on ${uses.publishOn}, outside ${grantTitle} (${planFrom} to ${planUntil}).`,
    )
  if (terms.duration === 'only-while-active')
    return reason('allows', `${grantTitle} runs until ${planUntil}; after that the sound has to go.`)
  return reason('allows', `Published on ${uses.publishOn}, while ${grantTitle} runs: it stays cleared.`)
}

/** How a sound that is not here yet would fare, for the strip in a list of results. */
export type Fit = 'fits' | 'fits-with-credit' | 'does-not-fit' | 'not-stated'

/** Fit of terms that a copy acquired now would come under. */
export function fitOf(decision: Decision): Fit {
  if (decision.verdict === 'clear') return 'fits'
  if (decision.verdict === 'owes-credit') return 'fits-with-credit'
  return decision.reasons.some(({ effect }) => effect === 'bars') ? 'does-not-fit' : 'not-stated'
}

/** What would settle a finding, as sentences that start with what to do. */
export function settlements(decision: Decision, uses: Uses): string[] {
  if (decision.verdict === 'clear') return []
  if (decision.verdict === 'owes-credit') return ['Put the credit line into the description.']
  const bars = decision.reasons.filter(({ effect }) => effect === 'bars' || effect === 'unstated')
  return [...new Set([...bars.map((reason) => settlement(reason, uses)), 'Replace the sound.'])]
}

function settlement({ key, effect }: Reason, uses: Uses): string {
  if (key === 'duration')
    return uses.publishOn === null ? 'Set the publish date.' : 'Renew the plan and download it again.'
  if (key === 'share-alike') return 'Publish the whole video under the same licence.'
  if (key === 'earning') return 'Ask the maker for a licence for a video that earns.'
  if (effect === 'unstated') return `Ask the library in writing about ${CLAUSE_WORDS[key].toLowerCase()}.`
  if (key in USE_PLACE_WORDS) return `Publish without “${CLAUSE_WORDS[key]}”, or get terms that allow it.`
  return 'Get other terms for this sound.'
}
