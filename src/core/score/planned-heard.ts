import type { Placement, Score } from './score'
import { placementEndS } from './timing'
import { isHeard } from './usage'

/** A place at which a sound was heard in the finished video. */
export interface HeardPlace {
  readonly soundId: number
  readonly audioSha256: string
  /** Other sounds that it may as well be. */
  readonly alternativeIds: readonly number[]
  readonly startS: number
  readonly endS: number
}

/** What was planned held against what was heard. */
export interface PlannedAndHeard<H extends HeardPlace> {
  /** Heard where it was placed. */
  readonly both: readonly { readonly placement: Placement; readonly heard: H; readonly laterS: number }[]
  readonly heardOnly: readonly H[]
  readonly plannedOnly: readonly Placement[]
  /** Placed but muted: they should not be heard, and are no fault when they are not. */
  readonly mutedOnly: readonly Placement[]
}

/** Heard this much earlier or later it is still the one that was placed, s. */
const SAME_PLACE_S = 0.5

/**
 * Holds what was placed against what was heard. Each place answers for one placement: the nearest of the same sound, or of one that it may as well be.
 *
 * @param heard Places of the check, in any order.
 */
export function plannedAndHeard<H extends HeardPlace>(score: Score, heard: readonly H[]): PlannedAndHeard<H> {
  const pairs = score.placements
    .flatMap((placement) =>
      heard
        .filter((place) => isSameSound(placement, place))
        .map((place) => ({ placement, heard: place, laterS: place.startS - placement.startS }))
        .filter(({ laterS, heard: place }) => isNear(placement, place, laterS)),
    )
    .sort((a, b) => Math.abs(a.laterS) - Math.abs(b.laterS))
  const takenIds = new Set<string>()
  const takenPlaces = new Map<H, Placement>()
  const both = pairs.filter(({ placement, heard: place }) => {
    const by = takenPlaces.get(place)
    // A place that is the whole of a bed answers for all of it.
    const isShared =
      by !== undefined && by.bed !== null && by.bed.id === placement.bed?.id && by.bed.soundId === place.soundId
    if (takenIds.has(placement.id) || (by !== undefined && !isShared)) return false
    takenIds.add(placement.id)
    takenPlaces.set(place, placement)
    return true
  })
  const left = score.placements.filter(({ id }) => !takenIds.has(id))
  return {
    both: both.sort((a, b) => a.placement.startS - b.placement.startS),
    heardOnly: heard.filter((place) => !takenPlaces.has(place)).sort((a, b) => a.startS - b.startS),
    plannedOnly: left.filter((placement) => isHeard(placement, score.layers)),
    mutedOnly: left.filter((placement) => !isHeard(placement, score.layers)),
  }
}

function isSameSound({ audio, bed }: Placement, { soundId, audioSha256, alternativeIds }: HeardPlace): boolean {
  // A bed in stems or parts is heard as the whole.
  if (bed?.soundId === soundId) return true
  if (audio.kind === 'copy' && audio.sha256 === audioSha256) return true
  return audio.soundId !== null && (audio.soundId === soundId || alternativeIds.includes(audio.soundId))
}

/** A long sound may be heard from its middle on, where something lies over its beginning. */
function isNear(placement: Placement, place: HeardPlace, laterS: number): boolean {
  if (Math.abs(laterS) <= SAME_PLACE_S) return true
  return laterS > 0 && place.startS < placementEndS(placement) && place.endS <= placementEndS(placement) + SAME_PLACE_S
}
