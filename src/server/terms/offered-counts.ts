import { sql } from 'kysely'
import type { Db } from '../database/open'

/** How many sounds each version of terms is offered under today, by its id: as the terms of the sound, or of one of its tiers. */
export async function countOffered(db: Db): Promise<ReadonlyMap<number, number>> {
  const { rows } = await sql<{ terms_id: number; n: number }>`
    SELECT terms_id, count(*) AS n FROM (
      SELECT sounds.id AS sound_id, terms_id FROM sounds JOIN sources ON sources.id = sounds.source_id
        WHERE withdrawn_at IS NULL AND sounds.generation <= sources.generation
      UNION
      SELECT sound_tiers.sound_id, sound_tiers.terms_id FROM sound_tiers
        JOIN sounds ON sounds.id = sound_tiers.sound_id WHERE sounds.withdrawn_at IS NULL
    ) GROUP BY terms_id`.execute(db)
  return new Map(rows.map(({ terms_id, n }) => [terms_id, n]))
}
