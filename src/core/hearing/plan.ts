import { PIECES_MAX } from './constants'
import type { Halvings } from './kernel/block-kernel'

/** A first pass over all of a window, in less band than there is. */
export interface CoarsePass {
  /** How often the band is halved. */
  readonly halvings: Halvings
  /** How many pieces are summed into one template. */
  readonly groupSize: 1 | 2
  /** Height from which a place is looked at further. */
  readonly flagMin: number
}

/** How a search spends its time, from how much a find must stand out. */
export interface SearchPlan {
  readonly coarse: CoarsePass
  /** How many pieces of a sound are looked for at most, the most energetic ones. */
  readonly piecesMax: number
  /** Height in the lower half of the band from which a place that the first pass found is looked at in full; null: at once. */
  readonly halfMin: number | null
  /** Finds with a lower score are of no use, not even to count chance. */
  readonly scoreMin: number
}

/**
 * What a place must show in the lower half of the band, in standard deviations. FalsePositiveModel passes it in about one block of twenty,
 * so that the full look costs about a tenth of a search without a first pass.
 */
export const HALF_MIN = 4.6
/** The same in the lower quarter, where a further look at one place costs little. FalsePositiveModel passes it twice in three seconds. */
const QUARTER_MIN = 3.6
/** How far under the reporting threshold finds are still gathered: they show how chance behaves in this track. */
const BELOW_THRESHOLD = 1.5
const SCORE_MIN = 6
/**
 * Each halving of the band, and each doubling of the group, takes 3 dB of the height. Two sounds to a template are therefore
 * worth it only where a find must stand out this much anyway, which is to say among thousands of sounds.
 */
const GROUP_MIN_THRESHOLD = 9
/** Of a long sound in a catalogue so many pieces are looked for: most trims leave one of the three loudest seconds. */
const CATALOGUE_PIECES = 3

/**
 * The plan for a search whose finds need this score.
 *
 * @param thorough For sounds that are likely there: the first pass has twice the band, at twice the cost.
 */
export function searchPlan(threshold: number, thorough: boolean): SearchPlan {
  const scoreMin = Math.max(SCORE_MIN, threshold - BELOW_THRESHOLD)
  if (thorough)
    return {
      coarse: { halvings: 1, groupSize: 1, flagMin: HALF_MIN },
      piecesMax: PIECES_MAX,
      halfMin: null,
      scoreMin,
    }
  const groupSize = threshold >= GROUP_MIN_THRESHOLD ? 2 : 1
  return {
    coarse: { halvings: 2, groupSize, flagMin: QUARTER_MIN },
    piecesMax: CATALOGUE_PIECES,
    halfMin: HALF_MIN,
    scoreMin,
  }
}
