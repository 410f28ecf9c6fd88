import { type Kysely, sql } from 'kysely'

/** What is heard only possibly settles nothing any more: states that were decided before are decided anew. */
export async function possibleFinds(db: Kysely<unknown>): Promise<void> {
  await sql`DELETE FROM video_states`.execute(db)
}
