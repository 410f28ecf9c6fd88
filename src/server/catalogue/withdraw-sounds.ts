import { sql } from 'kysely'
import { type Db, nowIso } from '../database/db'
import { isOneOf } from '../database/is-one-of'
import { unhurriedTransaction } from '../database/unhurried-transaction'
import type { Between } from './between'

/** Rows looked at in one piece. */
const PIECE_ROWS = 1000

/** Sounds that the library lists no more, a piece at a time. */
export async function withdrawUnseen(db: Db, sourceId: string, between: Between): Promise<number> {
  let gone = 0
  for (let after = 0; ; ) {
    const rows = await db
      .selectFrom('sounds')
      .leftJoin('catalogue_seen', (join) =>
        join
          .onRef('catalogue_seen.external_id', '=', 'sounds.external_id')
          .on('catalogue_seen.source_id', '=', sourceId),
      )
      .select(['sounds.id', 'withdrawn_at', 'catalogue_seen.external_id as seen'])
      // The plus keeps the table from being sorted anew for each piece: it is read in the order of its rows.
      .where(sql`+sounds.source_id`, '=', sourceId)
      .where('sounds.id', '>', after)
      .orderBy('sounds.id')
      .limit(PIECE_ROWS)
      .execute()
    const last = rows[rows.length - 1]
    if (!last) return gone
    after = last.id
    const ids = rows.filter(({ seen, withdrawn_at }) => seen === null && withdrawn_at === null).map(({ id }) => id)
    gone += ids.length
    await withdraw(db, ids)
    await between()
  }
}

/** Marks sounds as not offered any more. */
export async function withdraw(db: Db, ids: readonly number[]): Promise<void> {
  if (ids.length === 0) return
  await unhurriedTransaction(db, (trx) =>
    trx.updateTable('sounds').set({ withdrawn_at: nowIso() }).where(isOneOf('id', ids)).execute(),
  )
}
