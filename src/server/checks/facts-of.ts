import type { DetectionFacts, TrackFacts } from '../../core/clearance'
import type { Detection } from '../../core/hearing'
import type { Sensitivity } from '../workers/tasks'

/** A sound of a list that was listened for: the engine speaks of it by its place there. */
export interface ListenedSound {
  readonly soundId: number
  readonly audioSha256: string
}

/** What was heard in a track, by the sounds of the list that it was listened for by. */
export function detectionFacts(
  detections: readonly Detection[],
  trackIndex: number,
  sounds: readonly ListenedSound[],
): DetectionFacts[] {
  const soundAt = (index: number) => sounds[index] as ListenedSound
  return detections.map(({ soundIndex, alternatives, score: _, ...place }) => {
    const { soundId, audioSha256 } = soundAt(soundIndex)
    return {
      ...place,
      trackIndex,
      soundId,
      audioSha256,
      alternativeIds: alternatives.map((index) => soundAt(index).soundId),
    }
  })
}

/** From which level each sound that was not heard would have been, likewise. */
export function sensitivityFacts(
  sensitivity: readonly Sensitivity[],
  sounds: readonly ListenedSound[],
): TrackFacts['sensitivity'] {
  return sensitivity.map(({ index, fromDb, kind }) => {
    const { soundId } = sounds[index] as ListenedSound
    return kind ? [soundId, fromDb, kind] : [soundId, fromDb]
  })
}
