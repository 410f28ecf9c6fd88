import type { SoundSummary } from '../../contract'
import { type SourceFacts, sourceFactsOf } from '../../core/score'
import { printLevels } from '../format/print-shapes'

/** What is known of a sound for placing it: its length, its hit, and from its print where it has not died. */
export function sourceFacts({
  durationS,
  hitS,
  print,
}: Pick<SoundSummary, 'durationS' | 'hitS' | 'print'>): SourceFacts {
  return sourceFactsOf({ durationS, hitS }, print && { columnS: print.columnS, levels: printLevels(print) })
}
