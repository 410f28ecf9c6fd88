import { clearance as messages } from '../wording/clearance'
import type { DetectionFacts } from './facts'
import type { SoundOnFile } from './sound-on-file'

/** A stem that is heard as it is in the whole is as loud as it, dB. */
const SAME_GAIN_DB = 2
/** And at its very place, s. */
const SAME_PLACE_S = 0.05
/** This much of the stem lies within the whole. */
const WITHIN = 0.8

type Sounds = ReadonlyMap<number, SoundOnFile>

/**
 * Stems that are heard only because the whole that was found to be their sum is: as they are in it, at its place and its level. A stem that is louder or softer than
 * in the whole, or reaches beyond it, was placed by itself; and of a part or version nobody knows whether the stem is in it.
 *
 * @returns For the index of each such stem among the detections the index of the whole.
 */
export function heardInWhole(detections: readonly DetectionFacts[], sounds: Sounds): ReadonlyMap<number, number> {
  const found = new Map<number, number>()
  for (const [at, stem] of detections.entries()) {
    const holder = detections.findIndex(
      (whole) => sounds.get(whole.soundId)?.stemIds.includes(stem.soundId) && isHeldBy(stem, whole),
    )
    if (holder >= 0) found.set(at, holder)
  }
  return found
}

function isHeldBy(stem: DetectionFacts, whole: DetectionFacts): boolean {
  const sharedS = Math.min(stem.endS, whole.endS) - Math.max(stem.startS, whole.startS)
  const beginsS = (one: DetectionFacts): number => one.startS - one.fromS / one.speed
  return (
    stem.trackIndex === whole.trackIndex &&
    stem.speed === whole.speed &&
    sharedS >= WITHIN * (stem.endS - stem.startS) &&
    Math.abs(stem.gainDb - whole.gainDb) <= SAME_GAIN_DB &&
    Math.abs(beginsS(stem) - beginsS(whole)) <= SAME_PLACE_S
  )
}

/** Sounds that were taken in place of one and hold all of it, with why. */
export interface TakenInstead {
  readonly soundIds: readonly number[]
  readonly why: string
}

/**
 * What may have been taken to come by a sound without taking it: the whole that a part lies in, or every stem of a bed. A stem cannot be had from the whole.
 */
export function takenInstead(sound: SoundOnFile, sounds: Sounds): TakenInstead | null {
  const whole = sound.wholeId === null ? undefined : sounds.get(sound.wholeId)
  if (whole?.hasCopy) return { soundIds: [whole.soundId], why: messages.partWhichWasTakenAs(whole.title) }
  const stems = sound.stemIds.map((id) => sounds.get(id))
  if (stems.length < 2 || !stems.every((stem) => stem?.hasCopy)) return null
  const names = stems.map((stem) => `“${stem?.title}”`).join(', ')
  return { soundIds: sound.stemIds, why: messages.whatStemsAddUpAnd(names) }
}
