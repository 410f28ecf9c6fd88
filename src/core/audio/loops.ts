/** Parts at both ends that are compared, s. */
const END_S = 0.08
/** A sound that is shorter is not laid end to end. */
const SHORTEST_S = 0.5
/** Levels of the ends may differ by so much, dB, from each other and from the whole. */
const LEVEL_DIFFERENCE_DB = 4
/** Zero crossings a second may differ by this factor. */
const CROSSINGS_RATIO = 2

/**
 * Whether a sound can be laid end to end without its seam being heard: both ends are as loud as the whole and alike in pitch.
 *
 * @param samples Mono, full scale 1. Not modified.
 * @returns False for what begins with a hit, fades, or is under half a second.
 */
export function canLoop(samples: Float32Array, sampleRateHz: number): boolean {
  const length = Math.round(END_S * sampleRateHz)
  if (samples.length < SHORTEST_S * sampleRateHz) return false
  const whole = levelDb(samples)
  if (whole < -80) return false
  const start = samples.subarray(0, length)
  const end = samples.subarray(samples.length - length)
  const levels = [levelDb(start), levelDb(end), whole]
  if (Math.max(...levels) - Math.min(...levels) > LEVEL_DIFFERENCE_DB) return false
  const [a, b] = [crossings(start), crossings(end)]
  return Math.max(a, b) <= CROSSINGS_RATIO * Math.max(1, Math.min(a, b))
}

function levelDb(samples: Float32Array): number {
  let sum = 0
  for (const sample of samples) sum += sample * sample
  return 10 * Math.log10(sum / samples.length + 1e-12)
}

function crossings(samples: Float32Array): number {
  let count = 0
  for (let at = 1; at < samples.length; at++)
    if ((samples[at] as number) >= 0 !== (samples[at - 1] as number) >= 0) count++
  return count
}
