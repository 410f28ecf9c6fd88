import { createHash } from 'node:crypto'
import { FEATURES_VERSION } from '../../core/hearing'
import type { StageResult } from '../analysis/listening'
import type { Db } from '../database/open'
import type { ReferenceSounds } from './reference-sounds'

/** Raised whenever a stage does something else: what an older one found is not gone on from. */
const STAGES_VERSION = 5

/**
 * Finished stages of a check's file in the database. They speak of sounds by their place in the list, so they hold for that list alone; a
 * check that is made again for the same file and the same list goes on from them.
 */
export function completedStages(
  db: Db,
  checkId: number,
  { trackIndex, reference }: { readonly trackIndex: number; readonly reference: ReferenceSounds },
) {
  const list = reference.audible
    .map(({ soundId, audioSha256, acquired }) => `${soundId} ${audioSha256}${acquired ? '+' : ''}`)
    .join('\n')
  const prefix = createHash('sha256')
    .update(`${FEATURES_VERSION} ${STAGES_VERSION}\n${list}`)
    .digest('hex')
    .slice(0, 16)
  const keyOf = (key: string): string => `${prefix} ${trackIndex} ${key}`
  return {
    load: async (key: string): Promise<StageResult | null> => {
      const row = await db
        .selectFrom('check_stages')
        .innerJoin('checks', 'checks.id', 'check_stages.check_id')
        .innerJoin('checks as own', 'own.export_id', 'checks.export_id')
        .select('result_json')
        .where('own.id', '=', checkId)
        .where('key', '=', keyOf(key))
        .executeTakeFirst()
      return row ? (JSON.parse(row.result_json) as StageResult) : null
    },
    save: async (key: string, result: StageResult): Promise<void> => {
      const values = { check_id: checkId, key: keyOf(key), result_json: JSON.stringify(result) }
      await db
        .insertInto('check_stages')
        .values(values)
        .onConflict((conflict) => conflict.doNothing())
        .execute()
    },
  }
}
