/** From hearing or seeing something to pressing the key, s, until it is learned. */
export const DEFAULT_REACTION_S = 0.22
export const MAX_REACTION_S = 1

/** Corrections that count: older ones are forgotten. */
const CORRECTIONS_MAX = 20
const LEARNED_FROM = 5
/** A moment that is moved by more was not corrected but put elsewhere, s. */
const CORRECTION_MAX_S = 0.6

/** How long somebody takes to press the key. */
export interface Reaction {
  /** Set by hand, s; null where it is learned. */
  readonly setS: number | null
  /** How late each corrected moment was pressed, s, the newest last. */
  readonly latenessS: readonly number[]
}

export const NO_REACTION: Reaction = { setS: null, latenessS: [] }

/** What is taken off the time of a key, s. */
export function reactionS({ setS, latenessS }: Reaction): number {
  if (setS !== null) return setS
  if (latenessS.length < LEARNED_FROM) return DEFAULT_REACTION_S
  const sorted = [...latenessS].sort((a, b) => a - b)
  const middle = sorted.length >> 1
  const median =
    sorted.length % 2 === 1
      ? (sorted[middle] as number)
      : ((sorted[middle - 1] as number) + (sorted[middle] as number)) / 2
  return Math.max(0, Math.min(MAX_REACTION_S, median))
}

/** Whether it is learned, not set and not assumed. */
export function isLearned({ setS, latenessS }: Reaction): boolean {
  return setS === null && latenessS.length >= LEARNED_FROM
}

/**
 * Learns from a correction.
 *
 * @param pressedAtS Where the cut stood when the key was pressed. @param correctedS Where the moment was moved to.
 * @param notedS Where it had been put. A move too far to be a correction teaches nothing.
 */
export function withCorrection(
  reaction: Reaction,
  { pressedAtS, notedS, correctedS }: { pressedAtS: number; notedS: number; correctedS: number },
): Reaction {
  if (Math.abs(correctedS - notedS) > CORRECTION_MAX_S) return reaction
  return { ...reaction, latenessS: [...reaction.latenessS, pressedAtS - correctedS].slice(-CORRECTIONS_MAX) }
}
