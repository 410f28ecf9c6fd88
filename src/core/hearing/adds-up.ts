import { energyOf } from './products'

/**
 * What of a whole may be left when its stems are taken from it, as a share of its energy: a codec takes its part of each of them. Measured with three stems in Vorbis: 0.1 %
 * is left of the whole, and without the quietest of them, a pulse, 4 %.
 */
const LEFT_MOST = 0.01
/** In no stretch may more be left, frames (half a second): a stem may be silent but for a moment. */
const STRETCH_FRAMES = 8000
/** What a stretch may have left beyond that, as a share of the mean energy of a stretch: in a pause a codec leaves something of what went before. */
const PAUSE_LEFT_MOST = 1e-4
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
  const stretches = stretchesOf(whole)
  const pauseMost = (PAUSE_LEFT_MOST * stretches.reduce((total, { energy }) => total + energy, 0)) / stretches.length
  if (!(pauseMost > 0)) return false
  for (let lag = 0; lag <= LAG_MOST_FRAMES; lag++)
    for (const side of lag === 0 ? [0] : [lag, -lag])
      if (stretches.every((one) => leftOf(whole, sum, side, one) <= LEFT_MOST * one.energy + pauseMost)) return true
  return false
}

interface Stretch {
  readonly from: number
  readonly to: number
  readonly energy: number
}

function stretchesOf(whole: Float32Array): Stretch[] {
  return Array.from({ length: Math.ceil(whole.length / STRETCH_FRAMES) }, (_, k) => {
    const from = k * STRETCH_FRAMES
    const to = Math.min(whole.length, from + STRETCH_FRAMES)
    return { from, to, energy: energyOf(whole.subarray(from, to)) }
  })
}

/** Energy of what is left in a stretch. */
function leftOf(whole: Float32Array, sum: Float32Array, lag: number, { from, to }: Stretch): number {
  let left = 0
  for (let n = from; n < to; n++) left += ((whole[n] as number) - (sum[n + lag] ?? 0)) ** 2
  return left
}
