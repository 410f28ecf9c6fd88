import type { Cue } from '../formats/captions'
import type { Vocabulary } from './vocabulary'
import { stemOf, stemsOf, wordsOf } from './words'

/** A word or expression that is spoken and stands for a sound. */
export interface SpokenSound {
  /** As it is spoken. */
  readonly words: string
  /** When, s; within its cue in proportion to the words before it. */
  readonly atS: number
  /** The cue it is spoken in. */
  readonly said: string
}

/** The same word within this time is the same moment, s. */
const AGAIN_S = 4
/** Qualities and places of speech that stand in the vocabulary, but name no sound by themselves. */
const NO_SOUNDS = new Set(
  `low high big small short long fast slow far near close old dark dry wet soft loud strong brief quick
    little tiny deep heavy can will right last watch leave fall rise break beat bed bar fly light table
    space station data report press drive empty people school office city country village town calm sad
    happy point bear fail win error catch play code letter map sheet sky star planet moon night midnight
    evening room background front magic wrong correct success hill mountain interior exterior inside
    outdoors indoors hover scan computing electronic discovery reveal passage transition speech voice
    talking house climate weather road street`
    .split(/\s+/)
    .map(stemOf),
)

/**
 * What is spoken that stands for a sound, by the vocabulary: "kettle" at 42 s.
 *
 * @param more Expressions beside those of the vocabulary: the creator's habits.
 */
export function spokenSounds(
  cues: readonly Cue[],
  vocabulary: Vocabulary,
  more: readonly string[] = [],
): SpokenSound[] {
  const wanted = new Map<string, number>()
  for (const one of vocabulary.expressions)
    if (!NO_SOUNDS.has(stemOf(one))) wanted.set(stemsOf(one), one.split(' ').length)
  for (const one of more) wanted.set(stemsOf(one), wordsOf(one).length)
  const longest = Math.max(1, ...wanted.values())
  const last = new Map<string, number>()
  const found: SpokenSound[] = []
  for (const { startS, endS, text } of cues) {
    const words = wordsOf(text)
    for (let at = 0; at < words.length; at++) {
      const length = longestAt(words, at, wanted, longest)
      if (length === 0) continue
      const expression = words.slice(at, at + length).join(' ')
      const key = stemsOf(expression)
      const atS = startS + ((endS - startS) * at) / words.length
      const before = last.get(key)
      last.set(key, atS)
      if (before === undefined || atS - before > AGAIN_S) found.push({ words: expression, atS, said: text })
      at += length - 1
    }
  }
  return found
}

function longestAt(words: readonly string[], at: number, wanted: ReadonlyMap<string, number>, longest: number): number {
  for (let length = Math.min(longest, words.length - at); length > 0; length--) {
    const run = words.slice(at, at + length).join(' ')
    if (wanted.has(stemsOf(run))) return length
  }
  return 0
}
