/** Times of uneven frames are stored in this unit, s. */
export const FRAME_TICK_S = 0.0001

/** Frames further apart than this fraction from the usual are uneven, and so many of them make a variable rate. */
const UNEVEN = 0.25
const UNEVEN_SHARE = 0.02
/** Of fewer steps nothing can be told. */
const STEPS_MIN = 10

/** Whether frames come unevenly. @param timesS When each is shown, ascending, s. */
export function comesUnevenly(timesS: ArrayLike<number>): boolean {
  const steps = Float64Array.from({ length: Math.max(0, timesS.length - 1) }, (_, index) => {
    return (timesS[index + 1] as number) - (timesS[index] as number)
  })
  if (steps.length < STEPS_MIN) return false
  const usual = steps.slice().sort()[steps.length >> 1] || 1
  const uneven = steps.filter((step) => Math.abs(step / usual - 1) > UNEVEN).length
  return uneven > UNEVEN_SHARE * steps.length
}

/** Times of frames as they are stored: 32-bit numbers of 0.1 ms. */
export function frameTicks(timesS: ArrayLike<number>): Uint32Array<ArrayBuffer> {
  return Uint32Array.from(timesS, (timeS) => Math.max(0, Math.round(timeS / FRAME_TICK_S)))
}

/** Times of frames that were stored, s. */
export function frameTimesS(ticks: Uint32Array): Float64Array {
  return Float64Array.from(ticks, (tick) => tick * FRAME_TICK_S)
}
