/** Level steps are compared over this span, s: long enough to pass over single cycles of a low thud. */
const FRAME_S = 0.005
const RISE_FRAMES = 6

/**
 * The hit: the instant of a sound that should meet the moment.
 *
 * The strongest rise of energy within 30 ms, weighted by the level that it reaches; for a sound that only swells this
 * falls on its peak.
 *
 * @param samples Mono, full scale 1. Not modified.
 * @param sampleRateHz 8 000 to 192 000.
 * @returns Seconds from the start, or null for a silent or empty clip.
 */
export function hitPointS(samples: Float32Array, sampleRateHz: number): number | null {
  const frame = Math.max(1, Math.round(FRAME_S * sampleRateHz))
  const count = Math.ceil(samples.length / frame)
  const level = new Float64Array(count)
  let loudest = 0
  let loudestAt = 0
  for (let f = 0; f < count; f++) {
    let sum = 0
    const end = Math.min(samples.length, (f + 1) * frame)
    for (let i = f * frame; i < end; i++) sum += (samples[i] as number) ** 2
    level[f] = Math.sqrt(sum / frame)
    if ((level[f] as number) > loudest) {
      loudest = level[f] as number
      loudestAt = f
    }
  }
  if (loudest < 1e-5) return null
  let best = 0
  let bestAt = -1
  for (let f = 0; f < count; f++) {
    const before = f >= RISE_FRAMES ? (level[f - RISE_FRAMES] as number) : 0
    const rise = (level[f] as number) - before
    if (rise > best) {
      best = rise
      bestAt = f
    }
  }
  // A swell has no onset worth the name: its hit is its peak.
  const at = best < 0.35 * loudest || bestAt < 0 ? loudestAt : firstStep(level, bestAt, best)
  return at * FRAME_S
}

function firstStep(level: Float64Array, end: number, rise: number): number {
  let at = end
  while (at > 0 && at > end - RISE_FRAMES && (level[at - 1] as number) > (level[end] as number) - 0.75 * rise) at--
  return at
}
