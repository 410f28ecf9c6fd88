/** False finds halve with every step of this much. Measured. */
const HALVING_STEP = 0.5
/** Rates of false finds are counted at this score. */
const REFERENCE_SCORE = 7
/**
 * What is expected before anything is heard: one false find in 30 000 sound-minutes at the reference score, and how many
 * sound-minutes of decoys weigh as much as that. Measured on speech and music.
 */
const PRIOR_FALSE = 0.5
const PRIOR_SOUND_MINUTES = 15000
/** With few sounds too: hard cuts in a music bed were measured to look like a short click up to 7.4. */
export const LOWEST_SCORE = 7.5
/** True finds spread over about this many points of score; one is expected in five checks where none stands out. */
const TRUE_SPREAD = 10
const TRUE_DENSITY_MIN = 0.2
/** Doubt for each false find that is expected at a score and above: 0.025 of them leave 0.5 %. */
const CHANCE_DOUBT = 0.2
/** Under this score nothing is certain, however quiet chance is: false finds were measured up to 9.2, of clicks and of relatives. */
const CERTAIN_SCORE = 9.5
const NOT_QUITE_CERTAIN = 0.99
/** Finds with fewer false ones expected above them than this are counted as true. */
const STRONG_FALSE_MAX = 0.05

/** How chance behaves in one track, learned from sounds that cannot be in it. */
export interface FalsePositiveModel {
  /** False finds at the reference score and above, for each sound and minute. */
  readonly falseRate: number
}

/**
 * Rate of false finds from those of decoys.
 *
 * @param scores Scores of the decoys' finds. @param scoreMin Lowest score at which finds were gathered.
 * @param soundMinutes Decoys times minutes of track.
 */
export function falsePositiveModel(
  scores: readonly number[],
  scoreMin: number,
  soundMinutes: number,
): FalsePositiveModel {
  const seen = scores.filter((score) => score >= scoreMin).length
  const times = 2 ** ((REFERENCE_SCORE - scoreMin) / HALVING_STEP)
  return { falseRate: (PRIOR_FALSE + seen) / (PRIOR_SOUND_MINUTES + soundMinutes * times) }
}

/** What is expected before a track is heard. */
export const PRIOR_FALSE_POSITIVE_RATE: FalsePositiveModel = { falseRate: PRIOR_FALSE / PRIOR_SOUND_MINUTES }

/** Number of false finds to be expected at this score and above. */
export function expectedFalse(score: number, chance: FalsePositiveModel, soundMinutes: number): number {
  return chance.falseRate * soundMinutes * 2 ** (-(score - REFERENCE_SCORE) / HALVING_STEP)
}

/** A resolved find, and how chance behaves in the search that it comes from. */
export interface ScoredFind {
  readonly score: number
  readonly chance: FalsePositiveModel
}

/**
 * Confidence of each of a track's finds, 0 to 1: one minus the local rate of false discoveries, from the expected density of
 * false finds at its score against the density of true ones.
 */
export function confidences(finds: readonly ScoredFind[], soundMinutes: number): number[] {
  const isStrong = ({ score, chance }: ScoredFind): boolean =>
    expectedFalse(score, chance, soundMinutes) < STRONG_FALSE_MAX
  const trueDensity = TRUE_DENSITY_MIN + finds.filter(isStrong).length / TRUE_SPREAD
  return finds.map(({ score, chance }) => {
    if (score < LOWEST_SCORE) return 0
    const expected = expectedFalse(score, chance, soundMinutes)
    const falseDensity = (expected * Math.LN2) / HALVING_STEP
    // However many true ones there are, what chance gives now and then is not certain.
    const most = score < CERTAIN_SCORE ? NOT_QUITE_CERTAIN : 1
    return Math.min(most, trueDensity / (trueDensity + falseDensity), 1 - Math.min(1, expected * CHANCE_DOUBT))
  })
}

/** Score from which a find is at least possible, in a track of which nothing is known yet. */
export function scoreThreshold({ soundCount, durationS }: { soundCount: number; durationS: number }): number {
  const soundMinutes = soundMinutesOf({ soundCount, durationS })
  const score =
    REFERENCE_SCORE +
    HALVING_STEP *
      Math.log2((PRIOR_FALSE_POSITIVE_RATE.falseRate * soundMinutes * Math.LN2) / HALVING_STEP / TRUE_DENSITY_MIN)
  return Math.max(LOWEST_SCORE, score)
}

/** Sounds times minutes; a short clip counts as half a minute. */
export function soundMinutesOf({ soundCount, durationS }: { soundCount: number; durationS: number }): number {
  return Math.max(1, soundCount) * Math.max(0.5, durationS / 60)
}
