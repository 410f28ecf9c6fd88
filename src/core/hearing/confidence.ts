/** Score that was measured to give no false find among 200 sounds in 10 minutes. */
const BASE_THRESHOLD = 7
const BASE_SOUND_MINUTES = 2000
/** False finds halve with every step of this much. Measured. */
const HALVING_STEP = 0.5
const LOWEST_THRESHOLD = 6.2

/** Score that a find needs, from how many sounds were listened for and how long the track is. */
export function scoreThreshold({ soundCount, durationS }: { soundCount: number; durationS: number }): number {
  const soundMinutes = Math.max(1, soundCount) * Math.max(0.5, durationS / 60)
  return Math.max(LOWEST_THRESHOLD, BASE_THRESHOLD + HALVING_STEP * Math.log2(soundMinutes / BASE_SOUND_MINUTES))
}

/** Confidence of a find, 0 to 1: a half at the threshold, and the doubt halves with every half point above it. */
export function confidenceOf(score: number, threshold: number): number {
  return 1 - 0.5 * 2 ** (-(score - threshold) / HALVING_STEP)
}
