import { energyOf } from './products'

/** What of a whole may be left when its stems are taken from it, as a share of its energy: a codec takes its part of each of them. */
const LEFT_MOST = 0.05
/** The stems may stand this many frames apart from the whole: encoders add a little at the start. */
const LAG_MOST_FRAMES = 40
/** And end this much sooner or later, frames. */
const LENGTH_DIFFERS_FRAMES = 1600

/**
 * Whether some sounds played together are another one: nothing is left of it when they are taken away, at their own level.
 *
 * @param whole Mono at the hearing rate, as the file has it, as are all stems.
 */
export function addsUp(whole: Float32Array, stems: readonly Float32Array[]): boolean {
  if (stems.length < 2 || stems.some(({ length }) => Math.abs(length - whole.length) > LENGTH_DIFFERS_FRAMES))
    return false
  const sum = new Float32Array(whole.length)
  for (const stem of stems) for (let n = 0; n < sum.length; n++) sum[n] = (sum[n] as number) + (stem[n] ?? 0)
  const energy = energyOf(whole)
  if (energy === 0) return false
  for (let lag = 0; lag <= LAG_MOST_FRAMES; lag++)
    for (const side of lag === 0 ? [0] : [lag, -lag]) if (leftOf(whole, sum, side) <= LEFT_MOST * energy) return true
  return false
}

function leftOf(whole: Float32Array, sum: Float32Array, lag: number): number {
  let left = 0
  for (let n = 0; n < whole.length; n++) left += ((whole[n] as number) - (sum[n + lag] ?? 0)) ** 2
  return left
}
