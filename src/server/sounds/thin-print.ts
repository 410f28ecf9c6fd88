import type { PrintWire } from '../../contract'
import { PRINT_BANDS } from '../../core/audio'

/** More columns than this cannot be seen in a list. */
const LIST_COLUMNS = 300

/** A print for the wire: neighbouring columns are joined (the loudest counts) until there are at most 300. */
export function thinnedPrint(columnS: number, levels: Uint8Array): PrintWire {
  const columns = levels.length / PRINT_BANDS
  const step = Math.ceil(columns / LIST_COLUMNS)
  if (step <= 1) return { columnS, levelsBase64: Buffer.from(levels).toString('base64') }
  const thin = new Uint8Array(Math.ceil(columns / step) * PRINT_BANDS)
  for (let i = 0; i < levels.length; i++) {
    const at = Math.floor(Math.floor(i / PRINT_BANDS) / step) * PRINT_BANDS + (i % PRINT_BANDS)
    thin[at] = Math.max(thin[at] as number, levels[i] as number)
  }
  return { columnS: columnS * step, levelsBase64: Buffer.from(thin).toString('base64') }
}
