import { clearance, stateInWords } from '../../core/clearance'
import type { Json } from '../../core/ledger'
import { usesInWords } from '../../core/rights'
import type { Db } from '../database/db'
import { usesOfRow } from '../rows/video-rows'
import { loadClearanceInput } from './clearance-input'

/**
 * What a check comes to on its day, for its entry in the ledger: the state, and each heard sound with its verdict and the papers that it
 * rests on.
 *
 * @param trx The transaction in which the check is written. @param asOf Today, YYYY-MM-DD.
 */
export async function verdictsEntry(
  trx: Db,
  { checkId, videoId, asOf }: { readonly checkId: number; readonly videoId: number; readonly asOf: string },
): Promise<Readonly<Record<string, Json>>> {
  // One that was removed while it was checked counts as well: it may be brought back.
  const row = await trx.selectFrom('videos').selectAll().where('id', '=', videoId).executeTakeFirstOrThrow()
  const uses = usesOfRow(row)
  const input = await loadClearanceInput({ db: trx }, { id: videoId, uses }, { asOf, checkId })
  const { state, findings } = clearance(input)
  return {
    videoId,
    video: row.title,
    asOf,
    uses: usesInWords(uses),
    publishOn: uses.publishOn,
    state: stateInWords(state),
    verdicts: findings.map(({ soundId, verdict, ground }) => ({
      soundId,
      title: input.sounds.get(soundId)?.title ?? '',
      verdict,
      papersId: ground?.papersId ?? null,
      termsSha256: ground?.termsSha256 ?? null,
      onTheWordOf: ground?.declared?.by ?? null,
    })),
  }
}
