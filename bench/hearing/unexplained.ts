import type { TrackBreakdown } from '../../src/core/hearing'
import { coveredFraction } from '../../src/core/time-range'
import type { Laid } from './mixes'

/** A sound under speech for more than this part of it is not asked for: voices cover it. */
const SPEECH_SHARE_MAX = 0.5

/**
 * How many of the sounds that were laid in and are not listed stand out as unexplained, away from speech, and how many events are none of them.
 *
 * @returns A line of text; none where nothing unlisted was laid in.
 */
export function unexplainedReport(
  unlisted: readonly Laid[],
  { segments, unexplained }: Pick<TrackBreakdown, 'segments' | 'unexplained'>,
  durationS: number,
): string[] {
  if (unlisted.length === 0) return []
  const speech = segments.filter(({ kind }) => kind === 'speech')
  const away = unlisted.filter((place) => coveredFraction(place, speech) <= SPEECH_SHARE_MAX)
  const meets = (place: Laid): boolean =>
    unexplained.some((event) => event.startS < place.endS && event.endS > place.startS)
  const found = away.filter(meets).length
  const others = unexplained.filter((event) =>
    unlisted.every((place) => event.startS >= place.endS || event.endS <= place.startS),
  )
  const perMinute = (60 * others.length) / durationS
  return [
    `  unexplained      ${found} of ${away.length} unlisted sounds away from speech (${((100 * found) / Math.max(1, away.length)).toFixed(1)} %), ${perMinute.toFixed(1)} events a minute that are none`,
  ]
}
