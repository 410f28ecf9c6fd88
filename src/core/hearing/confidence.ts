/** Half a point above the score that gave no false find among 200 sounds in 20 minutes of real speech and music. */
const BASE_THRESHOLD = 7.5
const BASE_SOUND_MINUTES = 2000
/** False finds halve with every step of this much. Measured. */
const HALVING_STEP = 0.5
/** With few sounds too: hard cuts in a music bed were measured to look like a short click up to 7.1. */
const LOWEST_THRESHOLD = 7.2

/** Score that a find needs, from how many sounds were listened for and how long the track is. */
export function scoreThreshold({ soundCount, durationS }: { soundCount: number; durationS: number }): number {
  const soundMinutes = Math.max(1, soundCount) * Math.max(0.5, durationS / 60)
  return Math.max(LOWEST_THRESHOLD, BASE_THRESHOLD + HALVING_STEP * Math.log2(soundMinutes / BASE_SOUND_MINUTES))
}

/** Confidence of a find, 0 to 1: a half at the threshold, and the doubt halves with every half point above it. */
export function confidenceOf(score: number, threshold: number): number {
  return 1 - 0.5 * 2 ** (-(score - threshold) / HALVING_STEP)
}
