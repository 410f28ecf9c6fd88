import type { DuckRule } from '../score'
import { joinedRanges, type TimeRange } from '../time-range'

/** A change by hand belongs to speech that begins within this, s: a new analysis finds it a little elsewhere. */
const SAME_SPEECH_S = 0.25

/** One way down and up again. Times in the video, s. */
export interface Dip {
  /** Where the speech begins that it is for. */
  readonly speechS: number
  readonly downFromS: number
  readonly downAtS: number
  readonly upFromS: number
  readonly upAtS: number
  readonly depthDb: number
}

/**
 * Dips of a layer under speech. It is down when the speech begins: the way down lies before it.
 *
 * @param speech Where the voice speaks, in any order. Pauses that would only let the layer begin to rise are passed over.
 */
export function dipsUnder(rule: DuckRule, speech: readonly TimeRange[]): Dip[] {
  const { depthDb, attackS, holdS, releaseS, adjusted } = rule
  return joinedRanges(speech, holdS + attackS).map(({ startS, endS }) => {
    const byHand = adjusted.find(({ atS }) => Math.abs(atS - startS) <= SAME_SPEECH_S)
    return {
      speechS: startS,
      downFromS: startS - attackS,
      downAtS: startS,
      upFromS: endS + holdS,
      upAtS: endS + holdS + releaseS,
      depthDb: byHand?.depthDb ?? depthDb,
    }
  })
}

/** A rule in which the dip for one stretch of speech goes down by its own depth, dB; by null as the others do. */
export function withDip(rule: DuckRule, speechS: number, depthDb: number | null): DuckRule {
  const others = rule.adjusted.filter(({ atS }) => Math.abs(atS - speechS) > SAME_SPEECH_S)
  return {
    ...rule,
    adjusted: depthDb === null ? others : [...others, { atS: speechS, depthDb }].sort((a, b) => a.atS - b.atS),
  }
}

/** How far a layer is down at a time of the video, dB, 0 or less; the deepest dip counts where two meet. */
export function duckedDb(dips: readonly Dip[], atS: number): number {
  let most = 0
  for (const dip of dips) {
    if (atS <= dip.downFromS || atS >= dip.upAtS) continue
    const down = (atS - dip.downFromS) / (dip.downAtS - dip.downFromS)
    const up = (dip.upAtS - atS) / (dip.upAtS - dip.upFromS)
    most = Math.max(most, dip.depthDb * Math.min(1, down, up))
  }
  return most === 0 ? 0 : -most
}
