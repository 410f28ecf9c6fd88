import { deflateRawSync, inflateRawSync } from 'node:zlib'
import { sql } from 'kysely'
import type { Db } from '../database/db'
import { nowIso } from '../database/db'
import { unhurriedTransaction } from '../database/unhurried-transaction'
import type { CataloguePage, CatalogueSound } from '../ports/connector'
import type { Between } from './between'

/** Rows that are deleted in one statement: others are served between. */
const DELETED_AT_ONCE = 500

/** Puts a page down, and which sounds it lists. @returns How many of them were not listed before. */
export async function stagePage(
  db: Db,
  sourceId: string,
  { page, position }: { readonly page: CataloguePage; readonly position: number },
): Promise<number> {
  return unhurriedTransaction(db, async (trx) => {
    await trx
      .insertInto('catalogue_stage')
      .values({
        source_id: sourceId,
        position,
        next: page.next,
        total: page.total,
        sounds_packed: packed(page.sounds),
        read_at: nowIso(),
      })
      .execute()
    const ids = JSON.stringify(page.sounds.map(({ externalId }) => externalId))
    const { numAffectedRows } = await sql`INSERT INTO catalogue_seen (source_id, external_id)
      SELECT ${sourceId}, value FROM json_each(${ids}) WHERE true ON CONFLICT DO NOTHING`.execute(trx)
    return Number(numAffectedRows ?? 0)
  })
}

/** A tenth of the room: what is put down is written to the disk twice, and whoever waits for the disk waits for that. */
function packed(sounds: readonly CatalogueSound[]): Buffer {
  return deflateRawSync(JSON.stringify(sounds), { level: 1 })
}

function unpacked(sounds: Buffer): CatalogueSound[] {
  return JSON.parse(inflateRawSync(sounds).toString('utf8')) as CatalogueSound[]
}

/** The pages that were put down, one at a time. */
export async function* stagedPages(db: Db, sourceId: string): AsyncGenerator<readonly CatalogueSound[]> {
  for (let after = 0; ; ) {
    const row = await db
      .selectFrom('catalogue_stage')
      .select(['position', 'sounds_packed'])
      .where('source_id', '=', sourceId)
      .where('position', '>', after)
      .orderBy('position')
      .limit(1)
      .executeTakeFirst()
    if (!row) return
    after = row.position
    yield unpacked(row.sounds_packed)
  }
}

export async function countSeen(db: Db, sourceId: string): Promise<number> {
  const { count } = await db
    .selectFrom('catalogue_seen')
    .select((eb) => eb.fn.countAll<number>().as('count'))
    .where('source_id', '=', sourceId)
    .executeTakeFirstOrThrow()
  return count
}

/** Forgets what was put down, a little at a time. */
export async function clearStage(db: Db, sourceId: string, between: Between): Promise<void> {
  for (const [table, column] of [
    ['catalogue_stage', 'position'],
    ['catalogue_seen', 'external_id'],
  ] as const)
    for (;;) {
      const { numAffectedRows } = await unhurriedTransaction(db, (trx) =>
        sql`DELETE FROM ${sql.table(table)} WHERE source_id = ${sourceId}
        AND ${sql.ref(column)} IN (SELECT ${sql.ref(column)} FROM ${sql.table(table)} WHERE source_id = ${sourceId}
          LIMIT ${table === 'catalogue_stage' ? 5 : DELETED_AT_ONCE})`.execute(trx),
      )
      if (!numAffectedRows) break
      await between()
    }
}
