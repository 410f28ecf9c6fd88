import { PRINT_BANDS } from '../audio'
import type { SourceFacts } from './arrange'

/** A column of a print is loud when one of its bands is higher than this, of 255. */
const LOUD_FROM = 60

/**
 * What is known of a sound for placing it, with what its print tells of where it has not died.
 *
 * @param levels Levels of its print, 0 to 255, the bands of a column and then those of the next, columns of `columnS` seconds. Without a print it is taken
 * for loud everywhere: a cut that nobody wanted is worse than ten milliseconds of fade.
 */
export function sourceFactsOf(
  { durationS, hitS }: { readonly durationS: number; readonly hitS: number | null },
  print: { readonly columnS: number; readonly levels: Uint8Array } | null,
): SourceFacts {
  return {
    durationS,
    hitS,
    isLoudAt(atS) {
      if (!print) return true
      const { levels, columnS } = print
      const column = Math.min(levels.length / PRINT_BANDS - 1, Math.floor(atS / columnS))
      return levels.subarray(column * PRINT_BANDS, (column + 1) * PRINT_BANDS).some((level) => level > LOUD_FROM)
    },
  }
}
