import { isMereClick } from './click'
import { confidences, type FalsePositiveModel, soundMinutesOf } from './confidence'
import { HEARING_RATE_HZ } from './constants'
import type { PreparedSound, SoundsByIndex } from './prepare'
import { resolveOverlaps } from './resolve-overlaps'
import type { RawDetection } from './search'
import { soundKind } from './sound-kind'

/** What was done to a sound before it was placed in the mix. */
export type Treatment = 'as-is' | 'muffled' | 'room' | 'speed' | 'speed-pitch-kept'

/** A place in a track where a sound is heard. */
export interface Detection {
  /** Index into the list of sounds. */
  readonly soundIndex: number
  /** Other sounds of the list that are the same recording, or answered alike here. */
  readonly alternatives: readonly number[]
  /** Place in the track, s. */
  readonly startS: number
  readonly endS: number
  /** Part of the sound that is heard, s. */
  readonly fromS: number
  readonly toS: number
  /** Playing speed relative to the file. */
  readonly speed: number
  readonly treatment: Treatment
  /** For a muffled sound, above this it is not heard, Hz; else null. */
  readonly cutoffHz: number | null
  /** Level relative to the file, dB: root mean square of left and right. */
  readonly gainDb: number
  /** -1 left only, 0 as in the file, 1 right only. */
  readonly balance: number
  readonly fadeInS: number
  readonly fadeOutS: number
  /** How far the find stands out of chance, standard deviations. */
  readonly score: number
  /** 0.5 (just believed) to 1. */
  readonly confidence: number
  /** Heard in the side, half the difference of left and right: of what is in the middle there it says nothing. */
  readonly inSide?: true | undefined
}

/** A sound that is answered to this much more after its place than before stands in a room. Measured: seven of eight do, and hardly any other. */
const ROOM_ECHOES_MIN = 1.3

/**
 * A tone at another speed is another tone: what sets the two apart is little more than how they begin and end. However well it answers, that such a sound of the
 * list was used is possible, and not more. Measured: such finds of unlisted tones answered up to 10.8 and were stated at 0.97 and more.
 */
const TONE_AT_SPEED_MAX = 0.85

/**
 * A click of a few milliseconds is answered to by its relatives, other clicks of the same make at nearly its pitch: under this score one is called very likely where there are papers
 * of it, and possible where it is one of a list. Measured: four such finds in sixteen minutes of mixes with 52 listed ones, at 8 to 11, were called certain and very likely.
 */
const CLICK_CERTAIN_SCORE = 12.5
const CLICK_WITH_PAPERS_MAX = 0.95
const CLICK_LISTED_MAX = 0.85
/** The same of a tone in the side, where little covers what is like it: one that was not there answered at 11.4 in eight minutes of mixes. */
const TONE_IN_SIDE_MAX = 0.85

/** From here on a find is reported. */
const CONFIDENCE_MIN = 0.5

/**
 * Settles raw finds into the list that is reported.
 *
 * @param raw Finds of all searches of one track, with indices into `sounds`.
 * @param durationS Length of the track. @param chance What decoys showed. @param chanceAtSpeeds What they showed where sounds were looked up at other speeds;
 *   the same where it is left out. @param groups Sounds that are the same recording.
 * @param soundCount Sounds that were searched in all. @param shortlist Those that were searched first, by themselves: a find
 *   among few sounds needs to stand out less than one among many. @param shortlistCount How many such were searched in all, where more were before.
 */
export function finalDetections(
  raw: readonly RawDetection[],
  sounds: SoundsByIndex,
  {
    durationS,
    chance,
    chanceAtSpeeds = chance,
    soundCount,
    groups,
    shortlist = new Set(),
    shortlistCount = shortlist.size,
  }: {
    readonly durationS: number
    readonly chance: FalsePositiveModel
    readonly chanceAtSpeeds?: FalsePositiveModel
    readonly soundCount: number
    readonly groups: readonly (readonly number[])[]
    readonly shortlist?: ReadonlySet<number>
    readonly shortlistCount?: number
  },
): Detection[] {
  const resolved = resolveOverlaps(raw, sounds, groups)
  const confidenceOf = new Map<RawDetection, number>()
  for (const short of [true, false]) {
    const finds = resolved.filter(({ soundIndex }) => shortlist.has(soundIndex) === short)
    const count = short ? shortlistCount : soundCount - shortlistCount
    const certainty = confidences(
      // Sounds of which there are papers are searched at all speeds in full: nothing is looked up.
      finds.map(({ score, treatment }) => ({
        score,
        chance: treatment === 'speed' && !short ? chanceAtSpeeds : chance,
      })),
      soundMinutesOf({ soundCount: count, durationS }),
    )
    finds.forEach((find, index) => {
      const most = mostConfidence(find, sounds.at(find.soundIndex) ?? null, short)
      confidenceOf.set(find, Math.min(most, certainty[index] as number))
    })
  }
  return resolved.flatMap((find) => {
    const confidence = confidenceOf.get(find) as number
    return confidence >= CONFIDENCE_MIN ? [detectionOf(find, confidence, durationS)] : []
  })
}

/** What a find may be believed at most, by the kind of its sound. @param hasPapers Or it is likely there for another reason. */
function mostConfidence(
  { treatment, score, inSide }: RawDetection,
  sound: PreparedSound | null,
  hasPapers: boolean,
): number {
  if (!sound) return 1
  const isTone = (): boolean => soundKind(sound.samples, HEARING_RATE_HZ) === 'tone'
  if (treatment === 'speed' && isTone()) return TONE_AT_SPEED_MAX
  if (inSide && score < CLICK_CERTAIN_SCORE && isTone()) return TONE_IN_SIDE_MAX
  if (score < CLICK_CERTAIN_SCORE && isMereClick(sound)) return hasPapers ? CLICK_WITH_PAPERS_MAX : CLICK_LISTED_MAX
  return 1
}

function detectionOf(
  find: RawDetection & { readonly alternatives: readonly number[] },
  confidence: number,
  durationS: number,
): Detection {
  const { soundIndex, alternatives, lag, from, to, gain, balance, fadeIn, fadeOut, cutoffHz, echoes, score } = find
  const speed = find.speed ?? 1
  const asHeard = echoes >= ROOM_ECHOES_MIN ? 'room' : cutoffHz === null ? 'as-is' : 'muffled'
  const treatment = find.treatment ?? asHeard
  return {
    soundIndex,
    alternatives,
    startS: Math.max(0, (lag + from / speed) / HEARING_RATE_HZ),
    endS: Math.min(durationS, (lag + to / speed) / HEARING_RATE_HZ),
    fromS: from / HEARING_RATE_HZ,
    toS: to / HEARING_RATE_HZ,
    speed,
    treatment,
    cutoffHz: treatment === 'muffled' ? cutoffHz : null,
    gainDb: 20 * Math.log10(gain),
    balance,
    fadeInS: fadeIn / HEARING_RATE_HZ,
    fadeOutS: fadeOut / HEARING_RATE_HZ,
    score,
    confidence,
    ...(find.inSide ? { inSide: true } : {}),
  }
}
