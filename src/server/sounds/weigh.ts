import { type Decision, decide, decidedByTerms, type Papers, type Uses } from '../../core/rights'
import { type TermsRow, termsOfRow } from '../sources/terms-store'
import type { FiledPapers } from './papers-of'

/** The terms of a sound and the plan of its source, as they stand now. */
export interface OfferRow extends TermsRow {
  readonly plan: string
  readonly plan_from: string | null
  readonly plan_until: string | null
}

/** The papers that a copy acquired now would come under. */
export function offeredPapers(row: OfferRow): Papers {
  return { terms: termsOfRow(row), grantTitle: row.plan, planFrom: row.plan_from, planUntil: row.plan_until }
}

/** Whether a sound may be used: by the papers on file, or while there are none, by what a download now would give. */
export function weighed(uses: Uses, filed: readonly FiledPapers[], offer: OfferRow): Decision {
  return filed.length > 0
    ? decide({ uses, papers: filed.map(({ papers }) => papers) })
    : decidedByTerms(uses, offeredPapers(offer))
}
