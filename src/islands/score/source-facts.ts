import type { SoundSummary } from '../../contract'
import { type PlacedAudio, type SourceFacts, sourceFactsOf } from '../../core/score'
import { printLevels } from '../format/print-shapes'

/** What is known of a sound for placing it: its length, its hit, and from its print where it has not died. */
export function sourceFacts({
  durationS,
  hitS,
  print,
}: Pick<SoundSummary, 'durationS' | 'hitS' | 'print'>): SourceFacts {
  return sourceFactsOf({ durationS, hitS }, print && { columnS: print.columnS, levels: printLevels(print) })
}

/** The audio by which a sound is placed: its copy where that is here, so that another version of it is another sound. */
export function audioOf(sound: Pick<SoundSummary, 'id' | 'copySha256'>): PlacedAudio {
  return sound.copySha256
    ? { kind: 'copy', sha256: sound.copySha256, soundId: sound.id }
    : { kind: 'preview', soundId: sound.id }
}
