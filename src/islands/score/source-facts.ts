import type { SoundSummary } from '../../contract'
import type { SourceFacts } from '../../core/score'
import { BANDS, printLevels } from '../format/print-shapes'

/** A column of a print is loud when one of its bands is higher than this, of 255. */
const LOUD_FROM = 60

/** What is known of a sound for placing it: its length, its hit, and from its print where it has not died. */
export function sourceFacts({
  durationS,
  hitS,
  print,
}: Pick<SoundSummary, 'durationS' | 'hitS' | 'print'>): SourceFacts {
  // Without a print a fade is put: a cut that nobody wanted is worse than ten milliseconds of fade.
  const levels = print ? printLevels(print) : null
  return {
    durationS,
    hitS,
    isLoudAt(atS) {
      if (!print || !levels) return true
      const column = Math.min(levels.length / BANDS - 1, Math.floor(atS / print.columnS))
      return levels.subarray(column * BANDS, (column + 1) * BANDS).some((level) => level > LOUD_FROM)
    },
  }
}
