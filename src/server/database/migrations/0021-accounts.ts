import { type Kysely, sql } from 'kysely'

/**
 * Accounts at libraries: how each is asked, where it is, and whether it is paused. Until now every library was an account of itself. Keys are not in
 * the database.
 */
export async function accounts(db: Kysely<unknown>): Promise<void> {
  await sql`ALTER TABLE sources ADD COLUMN connector TEXT`.execute(db)
  await sql`ALTER TABLE sources ADD COLUMN address TEXT`.execute(db)
  await sql`ALTER TABLE sources ADD COLUMN description_json TEXT`.execute(db)
  await sql`ALTER TABLE sources ADD COLUMN paused_at TEXT`.execute(db)
  await sql`UPDATE sources SET connector = id WHERE kind = 'library'`.execute(db)
}
