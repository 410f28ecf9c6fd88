import { type Kysely, sql } from 'kysely'

/** The licence that a library put on a text that is not that licence; and the text that papers were declared after. */
export async function labels(db: Kysely<unknown>): Promise<void> {
  await sql`ALTER TABLE terms ADD COLUMN misfit_label TEXT`.execute(db)
  await sql`ALTER TABLE grants ADD COLUMN declared_after TEXT`.execute(db)
}
