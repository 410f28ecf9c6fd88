import { type Kysely, sql } from 'kysely'

/** The file of a pack that waits to be unpacked; null once it was. */
export async function packs(db: Kysely<unknown>): Promise<void> {
  await sql`ALTER TABLE sources ADD COLUMN pack_sha256 TEXT`.execute(db)
}
