import { EMPTY_SCORE, isHeard, type Layer, mixKey, type Placement, placementEndS, type Score } from '../score'
import { joinedRanges, type TimeRange } from '../time-range'
import { type Masking, maskingOf, type PlacedSignal } from './masking'
import { Mixer } from './mixer'
import type { PcmSource } from './pcm'

/** More of a long sound is not looked at, s: from shortly before somebody speaks. */
const LONGEST_S = 120
/** So much of a sound is heard before the speech that it covers, s, and so much of the voice around it is taken to know how loud it is. */
const BEFORE_S = 1
export const VOICE_AROUND_S = 1.5

/** A placed sound that may cover the voice, with the part of the video that is looked at. */
export interface OverVoice {
  readonly placement: Placement
  readonly layer: Layer
  readonly range: TimeRange
  /** Whether somebody speaks over it beyond that part too. */
  readonly isCutShort: boolean
}

/** Placed sounds that are heard while somebody speaks. A voice that is placed is speech itself: it covers none. */
export function placedOverVoice({ layers, placements }: Score, speech: readonly TimeRange[]): OverVoice[] {
  return placements.flatMap((placement): OverVoice[] => {
    const layer = layers.find(({ id }) => id === placement.layerId)
    const { startS } = placement
    const endS = placementEndS(placement)
    const spoken = joinedRanges(speech.filter((one) => one.startS < endS && one.endS > startS))
    const [first] = spoken
    if (!layer || layer.role === 'voice' || !isHeard(placement, layers) || !first) return []
    const fromS = Math.max(startS, first.startS - BEFORE_S)
    const range = { startS: fromS, endS: Math.min(endS, fromS + LONGEST_S) }
    const isCutShort = spoken.some((one) => Math.min(endS, one.endS) > range.endS)
    return [{ placement, layer, range, isCutShort }]
  })
}

/**
 * How a placed sound, as it is heard in the mix, and the voice of the cut cover each other.
 *
 * @param source Samples of its file. @param voice Of the cut, over the range and `VOICE_AROUND_S` around it. @param sampleRateHz Of the voice.
 */
export function placedMasking(
  { placement, layer, range }: OverVoice,
  source: PcmSource,
  voice: PlacedSignal,
  speech: readonly TimeRange[],
  sampleRateHz: number,
): Masking {
  // A stretch that keeps the pitch is as loud in each band as one that does not, nearly.
  const alone = { ...placement, keepsPitch: false }
  const score = { ...EMPTY_SCORE, layers: [{ ...layer, isSolo: false }], placements: [alone] }
  const mixer = new Mixer({ score, sources: new Map([[mixKey(alone), source]]), speech, sampleRateHz })
  const frames = Math.max(1, Math.round((range.endS - range.startS) * sampleRateHz))
  const [left, right] = [new Float32Array(frames), new Float32Array(frames)]
  mixer.render(Math.round(range.startS * sampleRateHz), left, right)
  // The power of both sides together, as that of the voice is: a sound at one side covers no less.
  for (let n = 0; n < frames; n++) left[n] = ((left[n] as number) + (right[n] as number)) * Math.SQRT1_2
  return maskingOf({ samples: left, startS: range.startS }, voice, speech, sampleRateHz)
}
