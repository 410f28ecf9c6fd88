import type { TrackBreakdown } from '../../src/core/hearing'
import { coveredFraction, type TimeRange } from '../../src/core/time-range'
import type { Laid } from './mixes'
import { share } from './score'

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
  const byRatio = [...new Set(away.map(({ ratioDb }) => ratioDb))]
    .sort((a, b) => a - b)
    .map((ratioDb) => {
      const those = away.filter((place) => place.ratioDb === ratioDb)
      const found = those.filter((place) => unexplained.some((event) => meets(event, place))).length
      return `${share(found, those.length)} at ${ratioDb} dB`
    })
  const others = unexplained.filter((event) => !unlisted.some((place) => meets(event, place)))
  const perMinute = (60 * others.length) / durationS
  return [
    `  unexplained      of unlisted sounds away from speech ${byRatio.join(', ')}; ${perMinute.toFixed(1)} events a minute that are none`,
  ]
}

function meets(event: TimeRange, place: TimeRange): boolean {
  return event.startS < place.endS && event.endS > place.startS
}
