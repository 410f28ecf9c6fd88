import type { DetectionWire } from '../../contract'
import { messages } from '../../messages'
import { clock } from './words'

/** Places that follow each other within this are one loop, s. */
const JOINS_WITHIN_S = 0.15
/** So many times are named before the rest is counted. */
const NAMED = 8

/** Places of one sound that follow each other at once: it is looped. */
export interface PlaceRun {
  readonly first: DetectionWire
  /** The one that is the least sure: the run is no surer. */
  readonly weakest: DetectionWire
  readonly places: readonly DetectionWire[]
  readonly endS: number
}

/** Places in order of time, those that are laid end to end as one run: in one track, and done to alike. */
export function placeRuns(detections: readonly DetectionWire[]): PlaceRun[] {
  const runs: { first: DetectionWire; weakest: DetectionWire; places: DetectionWire[]; endS: number }[] = []
  for (const place of [...detections].sort((a, b) => a.trackIndex - b.trackIndex || a.startS - b.startS)) {
    const run = runs[runs.length - 1]
    const joins =
      run !== undefined &&
      run.first.trackIndex === place.trackIndex &&
      run.first.treatment === place.treatment &&
      run.first.speed === place.speed &&
      Math.abs(place.startS - run.endS) <= JOINS_WITHIN_S
    if (!joins) runs.push({ first: place, weakest: place, places: [place], endS: place.endS })
    else {
      run.places.push(place)
      run.endS = place.endS
      if (place.confidence < run.weakest.confidence) run.weakest = place
    }
  }
  return runs
}

/** When a run is heard: "0:02 – 0:04", "3 times, 0:04.0 – 0:13.0". */
export function runWords({ first, places, endS }: PlaceRun): string {
  const span = `${clock(first.startS)} – ${clock(endS)}`
  return places.length === 1 ? span : messages.words.times(places.length, span)
}

/** The times at which a sound begins: the first few, and how many more. */
export function startsInWords(detections: readonly Pick<DetectionWire, 'startS'>[]): string {
  const named = detections.slice(0, NAMED).map(({ startS }) => clock(startS))
  const more = detections.length - named.length
  return more > 0 ? messages.words.andMore(named.join(', '), more) : named.join(', ')
}
