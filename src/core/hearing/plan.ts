import type { Halvings } from './kernel/block-kernel'

/** How a search spends its time, from how much a find must stand out. */
export interface SearchPlan {
  /** How often the band is halved in the first pass. */
  readonly halvings: Halvings
  /** How many pieces are summed into one template in the first pass. */
  readonly groupSize: 1 | 2
  /** Height in the first pass from which a block is looked at in full. */
  readonly flagMin: number
  /** Finds with a lower score are of no use, not even to count chance. */
  readonly scoreMin: number
}

/**
 * What a block must show in the first pass, in standard deviations. Chance passes it in about one block of twenty, so that the
 * full look costs about a tenth of a search without a first pass.
 */
const FLAG_MIN = 4.6
/** How far under the reporting threshold finds are still gathered: they show how chance behaves in this track. */
const BELOW_THRESHOLD = 1.5
const SCORE_MIN = 6
/**
 * Each halving of the band, and each doubling of the group, takes 3 dB of the height. Two sounds to a template are therefore
 * worth it only where a find must stand out this much anyway: 4.6 x sqrt(2 x 2), and one for the spread.
 */
const GROUP_MIN_THRESHOLD = 10.2

/** The plan for a search whose finds need this score. */
export function searchPlan(threshold: number): SearchPlan {
  return {
    halvings: 1,
    groupSize: threshold >= GROUP_MIN_THRESHOLD ? 2 : 1,
    flagMin: FLAG_MIN,
    scoreMin: Math.max(SCORE_MIN, threshold - BELOW_THRESHOLD),
  }
}
