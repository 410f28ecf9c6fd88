import { type FrameRate, frameAt, frameS, frameStartS, nearestFrameS } from '../../core/formats/timecode'

/** The frames of a cut: even ones by their rate, uneven ones by their times. */
export interface FrameGrid {
  /** Number of the frame that is shown at a time. */
  at(timeS: number): number
  /** When it begins, s. */
  startS(frame: number): number
  /** Its middle, s: where a picture is asked for, so that rounding does not give its neighbour. */
  middleS(frame: number): number
  /** Start of the frame that begins nearest, s. */
  nearestS(timeS: number): number
}

export function evenFrames(rate: FrameRate): FrameGrid {
  const half = frameS(rate) / 2
  return {
    at: (timeS) => frameAt(timeS, rate),
    startS: (frame) => frameStartS(Math.max(0, frame), rate),
    middleS: (frame) => frameStartS(Math.max(0, frame), rate) + half,
    nearestS: (timeS) => nearestFrameS(timeS, rate),
  }
}

/** @param timesS When each frame begins, s, in order, at least one. */
export function unevenFrames(timesS: Float64Array): FrameGrid {
  const last = timesS.length - 1
  const clamped = (frame: number): number => Math.max(0, Math.min(last, frame))
  const at = (timeS: number): number => {
    let low = 0
    let high = last
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if ((timesS[middle] as number) <= timeS + 1e-4) low = middle
      else high = middle - 1
    }
    return low
  }
  const startS = (frame: number): number => timesS[clamped(frame)] as number
  return {
    at,
    startS,
    middleS: (frame) => {
      const index = clamped(frame)
      const next = timesS[index + 1] ?? startS(index) + 0.04
      return (startS(index) + next) / 2
    },
    nearestS: (timeS) => {
      const index = at(timeS)
      const next = startS(index + 1)
      return next - timeS < timeS - startS(index) ? next : startS(index)
    },
  }
}
