import type { TimeRange } from '../time-range'
import type { CheckFacts, PlacedFacts } from './facts'
import type { SoundOnFile } from './sound-on-file'

/** A sound that was placed in a video and of which nothing was heard in its file. */
export interface PlacedUnheard {
  readonly soundId: number
  /** SHA-256 of the copies that were placed; empty where only the preview was. */
  readonly contents: readonly string[]
  /** Where it was placed, s. */
  readonly places: readonly TimeRange[]
}

/**
 * Sounds that were placed in a video when it was checked, and that answered nowhere in it: they may be in it all the same, under what is louder, backwards, or at a
 * speed that is not searched, or what was heard under another sound's name. What is heard as the whole that it is a part of, or as all of its stems, counts as heard.
 */
export function placedUnheard(
  { placed = [], detections }: Pick<CheckFacts, 'placed' | 'detections'>,
  sounds: ReadonlyMap<number, SoundOnFile>,
): PlacedUnheard[] {
  const heardIds = new Set(detections.map(({ soundId }) => soundId))
  const contents = new Set(detections.map(({ audioSha256 }) => audioSha256))
  const isOne = (id: number | null | undefined): boolean => id != null && heardIds.has(id)
  const isHeard = ({ soundId, bedId, audioSha256 }: PlacedFacts): boolean => {
    const sound = sounds.get(soundId)
    return (
      [soundId, bedId, sound?.wholeId].some(isOne) ||
      (sound !== undefined && sound.stemIds.length > 0 && sound.stemIds.every(isOne)) ||
      (audioSha256 !== null && contents.has(audioSha256))
    )
  }
  const unheard = placed.filter((one) => !isHeard(one))
  return [...new Set(unheard.map(({ soundId }) => soundId))].map((soundId) => {
    const own = unheard.filter((one) => one.soundId === soundId).sort((a, b) => a.startS - b.startS)
    return {
      soundId,
      contents: [...new Set(own.flatMap(({ audioSha256 }) => audioSha256 ?? []))],
      places: own.map(({ startS, endS }) => ({ startS, endS })),
    }
  })
}
