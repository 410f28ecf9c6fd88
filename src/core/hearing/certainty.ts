/** How sure a find is, in words. */
export type Certainty = 'certain' | 'very likely' | 'possible'

/** From here on a find is called so: one false in two hundred, and one in ten. */
const CERTAIN_MIN = 0.995
const VERY_LIKELY_MIN = 0.9

/** The word for a confidence of at least a half. */
export function certaintyOf(confidence: number): Certainty {
  return confidence >= CERTAIN_MIN ? 'certain' : confidence >= VERY_LIKELY_MIN ? 'very likely' : 'possible'
}
