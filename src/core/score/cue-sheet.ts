import type { Placement, Score } from './score'
import { hitTimeS, placementEndS, placementLengthS } from './timing'
import { isHeard } from './usage'

/** What a cue sheet tells of the sound of a placement. */
export interface CueSound {
  readonly title: string
  readonly maker: string
  readonly sourceName: string
  readonly fileName: string
  readonly licence: string
  /** The line that is owed, or null. */
  readonly creditLine: string | null
  /** What is open of it, as a sentence; null where there is ground for its use. */
  readonly open: string | null
}

/** One line of a cue sheet. */
export interface Cue extends CueSound {
  readonly number: number
  readonly layerName: string
  readonly placement: Placement
  readonly startS: number
  readonly endS: number
  readonly lengthS: number
  readonly hitS: number | null
  readonly isHeard: boolean
}

/** Every placement in order of time, with the ground of its sound. What is muted is a line, too, and says so. */
export function cuesOf(score: Score, soundOf: (placement: Placement) => CueSound): Cue[] {
  return score.placements.map((placement, index) => ({
    ...soundOf(placement),
    number: index + 1,
    layerName: score.layers.find(({ id }) => id === placement.layerId)?.name ?? '',
    placement,
    startS: placement.startS,
    endS: placementEndS(placement),
    lengthS: placementLengthS(placement),
    hitS: hitTimeS(placement),
    isHeard: isHeard(placement, score.layers),
  }))
}
