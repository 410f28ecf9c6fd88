import { sql } from 'kysely'
import { COUNT_SOUNDS, type SourceCounts } from '../database/count-sounds'
import type { Db } from '../database/open'
import { type Pool, runTask } from '../workers/pool'
import type { CountSoundsTask } from '../workers/tasks'

/** Fewer sounds than this are counted at once. */
const FEW_SOUNDS = 20_000
/** Counts of more sounds may be this old, ms: they are counted in a thread. */
const FRESH_MS = 2000

/**
 * Counts of sounds by source. @param now Whether they have to be the counts of now; where there are very many sounds, they are else as they were some
 * seconds ago at most.
 */
export type CountSounds = (now?: 'now') => Promise<ReadonlyMap<string, SourceCounts>>

/** Makes the counting of a data folder. @param pool Of what someone waits for. */
export function soundCounter(db: Db, dataDir: string, pool: Pool): CountSounds {
  let known: { readonly counts: ReadonlyMap<string, SourceCounts>; readonly atMs: number } | null = null
  let counting: Promise<ReadonlyMap<string, SourceCounts>> | null = null
  const byId = (rows: readonly SourceCounts[]): ReadonlyMap<string, SourceCounts> =>
    new Map(rows.map((row) => [row.id, row]))
  const count = (): Promise<ReadonlyMap<string, SourceCounts>> => {
    counting ??= runTask<SourceCounts[]>(pool, 'countSounds', { dataDir } satisfies CountSoundsTask)
      .then((rows) => {
        known = { counts: byId(rows), atMs: performance.now() }
        return known.counts
      })
      .finally(() => {
        counting = null
      })
    return counting
  }
  return async (now) => {
    const { rows } = await sql<{ most: number | null }>`SELECT max(id) AS most FROM sounds`.execute(db)
    if ((rows[0]?.most ?? 0) < FEW_SOUNDS) return byId((await sql.raw<SourceCounts>(COUNT_SOUNDS).execute(db)).rows)
    if (now) {
      // What is being counted may have begun before the last was written.
      await counting?.catch(() => undefined)
      return count()
    }
    if (!known) return count()
    // What is known is given at once, and counted anew for the next who asks.
    if (performance.now() - known.atMs > FRESH_MS) count().catch(() => undefined)
    return known.counts
  }
}
