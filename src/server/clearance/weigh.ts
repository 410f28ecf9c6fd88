import {
  type Decision,
  type DecisionContext,
  decide,
  decidedByTerms,
  isPermitted,
  type Offer,
  type Papers,
} from '../../core/rights'
import { isOneOf } from '../database/is-one-of'
import type { Db } from '../database/open'
import { money } from '../money'
import { type TermsRow, termsOfRow } from '../terms/terms-store'
import type { FiledPapers } from './papers-of'

/** The terms of a sound and the plan of its source, as they stand now. */
export interface OfferRow extends Omit<TermsRow, 'title'> {
  readonly terms_title: string
  readonly plan: string
  readonly plan_from: string | null
  readonly plan_until: string | null
}

/** The papers that a copy acquired now would come under; what is bought is bought for the video at hand, with its receipt. */
export function offeredPapers(row: OfferRow, videoId: number | null): Papers {
  return {
    terms: termsOfRow({ ...row, title: row.terms_title }),
    grantTitle: row.plan,
    planFrom: row.plan_from,
    planUntil: row.plan_until,
    boundTo: videoId === null ? [] : [videoId],
    hasProof: true,
  }
}

/** Papers that hold for the audio of today. */
export function currentPapers(filed: readonly FiledPapers[]): Papers[] {
  return filed.filter(({ isForCurrent }) => isForCurrent).map(({ papers }) => papers)
}

/** Whether a sound may be used: by the papers on file, or while there are none, by what a download now would give. */
export function decideFromPapersOrOffer(
  context: DecisionContext,
  filed: readonly FiledPapers[],
  offer: OfferRow,
  tiers: readonly Offer[] = [],
): Decision {
  if (filed.length > 0) return decide({ ...context, papers: currentPapers(filed), offers: tiers })
  const offered = [offeredPapers(offer, context.videoId ?? null), ...tiers.map(({ papers }) => papers)]
  const decisions = offered.map((papers) => decidedByTerms(papers, context))
  // The cheapest that will do; if none does, what the first one says.
  return decisions.find(({ verdict }) => isPermitted(verdict)) ?? (decisions[0] as Decision)
}

/** What could be bought of some sounds, the cheapest first. */
export async function loadTierOffers(
  db: Db,
  soundIds: readonly number[],
  videoId: number | null,
): Promise<Map<number, TierOffer[]>> {
  const bySound = new Map<number, TierOffer[]>()
  if (soundIds.length === 0) return bySound
  const rows = await db
    .selectFrom('sound_tiers')
    .innerJoin('terms', 'terms.id', 'sound_tiers.terms_id')
    .select(['sound_tiers.sound_id', 'sound_tiers.key as tier', 'sound_tiers.title as tier_title', 'price_minor'])
    .select([
      'currency',
      'sound_tiers.terms_id',
      'terms.title as terms_title',
      'short_title',
      'version',
      'spdx_id',
      'url',
      'duration',
    ])
    .select('clauses_json')
    .where(isOneOf('sound_tiers.sound_id', soundIds))
    .orderBy('position')
    .execute()
  for (const row of rows) {
    const plan = { plan: row.tier_title, plan_from: null, plan_until: null }
    const offer: TierOffer = {
      kind: 'tier',
      key: row.tier,
      title: row.tier_title,
      price: money(row.price_minor, row.currency),
      priceMinor: row.price_minor,
      currency: row.currency,
      termsId: row.terms_id,
      papers: offeredPapers({ ...row, ...plan }, videoId),
    }
    bySound.set(row.sound_id, [...(bySound.get(row.sound_id) ?? []), offer])
  }
  return bySound
}

export interface TierOffer extends Offer {
  readonly key: string
  readonly priceMinor: number
  readonly currency: string
  readonly termsId: number
}
