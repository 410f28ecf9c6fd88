import { type Kysely, sql } from 'kysely'

const STATEMENTS = [
  `UPDATE checks SET
    has_picture = coalesce((SELECT json ->> '$.file.hasPicture' FROM check_facts WHERE sha256 = facts_sha256), 0),
    duration_s = (SELECT max(coalesce(max(one.value ->> 'durationS', one.value ->> 'statedDurationS'), one.value ->> 'durationS')) FROM check_facts, json_each(check_facts.json, '$.tracks') AS one
      WHERE sha256 = facts_sha256)
    WHERE facts_sha256 IS NOT NULL`,
]

/** Lists tell of finished films without reading all that was found in them: their length, and whether they have a picture. */
export async function films(db: Kysely<unknown>): Promise<void> {
  for (const statement of STATEMENTS) await sql.raw(statement).execute(db)
}
