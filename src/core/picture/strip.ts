import { type FrameRate, frameS, nearestFrameRate } from '../formats/timecode'

/** Height of the small pictures of a strip, px. */
export const STRIP_HEIGHT_PX = 72
/** Small pictures of one cut. */
const STRIP_MAX = 600
const STRIP_STEP_MIN_S = 0.5
/** A time this little before its step is on it, s. */
const EARLY_S = 1e-6
/** Of fewer frames the container knows more than their times do. */
const FEW_FRAMES = 10

/** How far apart the small pictures of a cut are at least, s. */
export function stripStepS(durationS: number): number {
  return Math.max(STRIP_STEP_MIN_S, durationS / STRIP_MAX)
}

/** Whether the frame at a time becomes a small picture. @param lastS When the one before is shown, s; null for the first. */
export function isStripFrame(timeS: number, lastS: number | null, stepS: number): boolean {
  return lastS === null || timeS - lastS >= stepS - EARLY_S
}

/**
 * Rate and length of a picture by the times of its frames.
 *
 * @param statedRate What the container says, for a picture of a few frames. @returns Length in s, 0 without frames.
 */
export function measuredPicture(
  { count, firstS, lastS }: { readonly count: number; readonly firstS: number; readonly lastS: number },
  statedRate: FrameRate,
): { readonly frameRate: FrameRate; readonly durationS: number } {
  const frameRate = count > FEW_FRAMES && lastS > firstS ? nearestFrameRate((count - 1) / (lastS - firstS)) : statedRate
  return { frameRate, durationS: count > 0 ? lastS + frameS(frameRate) : 0 }
}
