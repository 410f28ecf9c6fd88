import { type Kysely, sql } from 'kysely'

const STATEMENTS = [
  `ALTER TABLE mixes ADD COLUMN format TEXT NOT NULL DEFAULT 'wav'`,
  `ALTER TABLE mixes ADD COLUMN with_video INTEGER NOT NULL DEFAULT 0`,
]

/** Mixes as FLAC, and the video with the mix as its sound track. */
export async function mixFormats(db: Kysely<unknown>): Promise<void> {
  for (const statement of STATEMENTS) await sql.raw(statement).execute(db)
}
