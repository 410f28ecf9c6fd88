import { rights as messages } from '../wording/rights'
import type { DecisionContext, Declared, Offer, Papers } from './papers'
import { type Reason, reasonsOf } from './reasons'
import { REPLACE, type Settlement, settlementsFor } from './settlements'

/** The verdict on a heard sound. */
export type Verdict = 'clear' | 'owes-credit' | 'no-papers' | 'not-allowed'

/** What the maker of the video has to do. */
export type Duty = 'credit' | 'share-alike' | 'registration' | 'report'

/** The answer to "may I?", with its grounds. */
export interface Decision {
  readonly verdict: Verdict
  /** What decides stands first. */
  readonly reasons: readonly Reason[]
  readonly duties: readonly Duty[]
  /** What would settle it, the nearest first; empty when the verdict is "clear". */
  readonly settlements: readonly Settlement[]
  /** Index of the paper that it rests on, among those that were given; null when there were none. */
  readonly restsOn: number | null
  /** Whose word it rests on; null for papers that a library gave. */
  readonly declared: Declared | null
}

/** Everything that a decision rests on. The day of publication is part of the uses. */
export interface Question extends DecisionContext {
  readonly papers: readonly Papers[]
  /** What could be had; those that would allow the uses become settlements. */
  readonly offers?: readonly Offer[]
}

const VERDICT_RANK: Readonly<Record<Verdict, number>> = { clear: 0, 'owes-credit': 1, 'not-allowed': 2, 'no-papers': 3 }
const EFFECT_RANK: Readonly<Record<Reason['effect'], number>> = { bars: 0, unstated: 1, asks: 2, allows: 3 }

/**
 * Decides whether a sound may be used, from all papers that are on file for it.
 *
 * The best of several papers counts. A point that the terms do not state never gives "clear".
 *
 * @returns "no-papers" with no reasons when there are no papers.
 */
export function decide({ papers, offers = [], ...context }: Question): Decision {
  const decisions = papers.map((paper, index) => ({ ...decidedByTerms(paper, context), restsOn: index }))
  const best = decisions.reduce<Decision>(
    (found, next) => (better(next, found) ? next : found),
    decisions[0] ?? {
      verdict: 'no-papers',
      reasons: [],
      duties: [],
      settlements: [REPLACE],
      restsOn: null,
      declared: null,
    },
  )
  if (isPermitted(best.verdict)) return best
  const taken = (some: readonly Offer[]): Settlement[] => some.flatMap((offer) => offerSettlement(offer, context))
  // What settles the sound that was placed in the mix comes before another sound.
  return {
    ...best,
    settlements: [
      ...taken(offers.filter(({ kind }) => kind !== 'sound')),
      ...best.settlements.filter((one) => one !== REPLACE),
      ...taken(offers.filter(({ kind }) => kind === 'sound')),
      ...best.settlements.filter((one) => one === REPLACE),
    ],
  }
}

/** Weighs the uses against one paper, point by point. */
export function decidedByTerms(papers: Papers, context: DecisionContext): Decision {
  const reasons = reasonsOf(papers, context).sort((a, b) => EFFECT_RANK[a.effect] - EFFECT_RANK[b.effect])
  const barring = reasons.filter(({ effect }) => effect === 'bars' || effect === 'unstated')
  const duties = dutiesOf(reasons)
  const verdict = barring.length > 0 ? 'not-allowed' : duties.includes('credit') ? 'owes-credit' : 'clear'
  return {
    verdict,
    reasons,
    duties,
    restsOn: 0,
    declared: papers.declared ?? null,
    settlements:
      verdict === 'clear'
        ? []
        : verdict === 'owes-credit'
          ? [{ action: 'give-credit', sentence: messages.putCreditLineIntoDescription, key: 'credit' }]
          : [...settlementsFor(barring, context.uses), REPLACE],
  }
}

/** Whether a verdict lets the sound be used, if need be with a credit. */
export function isPermitted(verdict: Verdict): boolean {
  return verdict === 'clear' || verdict === 'owes-credit'
}

/** Of two that bar, the one that bars on fewer points stands nearer to being settled. */
function better(one: Decision, other: Decision): boolean {
  const rank = VERDICT_RANK[one.verdict] - VERDICT_RANK[other.verdict]
  return rank < 0 || (rank === 0 && one.settlements.length < other.settlements.length)
}

function dutiesOf(reasons: readonly Reason[]): Duty[] {
  const asked = (key: Reason['key']): boolean =>
    reasons.some((reason) => reason.key === key && reason.effect === 'asks')
  const owed = reasons.some(({ key, effect }) => key === 'registration' && effect === 'bars')
  const reported = reasons.some(({ key, effect }) => key === 'audience' && effect === 'allows')
  return [
    ...(asked('credit') ? (['credit'] as const) : []),
    ...(asked('share-alike') ? (['share-alike'] as const) : []),
    ...(owed ? (['registration'] as const) : []),
    // A cap on the audience has to be watched after publishing.
    ...(reported ? (['report'] as const) : []),
  ]
}

function offerSettlement({ kind, title, price, papers }: Offer, context: DecisionContext): Settlement[] {
  const { verdict } = decidedByTerms(papers, context)
  if (!isPermitted(verdict)) return []
  const cost = price === null ? '' : ` for ${price}`
  const then = verdict === 'owes-credit' ? messages.allowsThisVideoWithCredit : messages.itAllowsThisVideo
  const sentences: Readonly<Record<Offer['kind'], string>> = {
    tier: messages.buyTheTier(title, cost, then),
    plan: messages.downloadItUnder(title, cost, then),
    sound: messages.takeInstead(title, cost, then),
  }
  return [{ action: 'take-offer', sentence: sentences[kind], key: null }]
}

/** How a sound that is not here yet would fare, for the strip in a list of results. */
export type Fit = 'fits' | 'fits-with-credit' | 'does-not-fit' | 'not-stated'

/** Fit of terms that a copy acquired now would come under. */
export function fitOf(decision: Decision): Fit {
  if (decision.verdict === 'clear') return 'fits'
  if (decision.verdict === 'owes-credit') return 'fits-with-credit'
  return decision.reasons.some(({ effect }) => effect === 'bars') ? 'does-not-fit' : 'not-stated'
}
