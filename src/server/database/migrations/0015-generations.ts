import { type Kysely, sql } from 'kysely'

const STATEMENTS = [
  // Sounds that a sync brings are written in pieces, and seen only once their source has come to their generation.
  `ALTER TABLE sources ADD COLUMN generation INTEGER NOT NULL DEFAULT 0`,
  `ALTER TABLE sounds ADD COLUMN generation INTEGER NOT NULL DEFAULT 0`,
  `CREATE TABLE catalogue_seen (
    source_id TEXT NOT NULL REFERENCES sources(id) ON DELETE CASCADE, external_id TEXT NOT NULL,
    PRIMARY KEY (source_id, external_id)
  ) STRICT, WITHOUT ROWID`,
  `CREATE INDEX sounds_offered ON sounds (source_id, generation) WHERE withdrawn_at IS NULL`,
  `DROP VIEW sound_rows`,
  `CREATE VIEW sound_rows AS SELECT sounds.id, coalesce(sounds.own_title, sounds.title) AS shown_title,
    sounds.title AS original_title, sounds.own_title IS NOT NULL AS is_renamed, sounds.maker, sounds.external_id, sounds.description,
    sounds.tags_json, sounds.category, sounds.kind, sounds.tempo_bpm, sounds.mood, sounds.vocals, sounds.popularity, sounds.added_at,
    sounds.duration_s, sounds.formats_json, sounds.cost, sounds.page_url,
    CASE WHEN sounds.generation > sources.generation THEN sounds.added_at ELSE sounds.withdrawn_at END AS withdrawn_at,
    sounds.source_id,
    sources.name AS source_name, sources.kind AS source_kind, sources.plan, sources.plan_from, sources.plan_until, sounds.terms_id,
    terms.key AS terms_key, terms.title AS terms_title, terms.short_title, terms.version, terms.spdx_id, terms.url, terms.duration,
    terms.clauses_json, terms.sha256 AS terms_sha256
    FROM sounds JOIN sources ON sources.id = sounds.source_id JOIN terms ON terms.id = sounds.terms_id`,
]

/** Catalogues that are taken over in pieces. */
export async function generations(db: Kysely<unknown>): Promise<void> {
  for (const statement of STATEMENTS) await sql.raw(statement).execute(db)
  // The search is not told of a sound before it can be seen.
  const { rows } = await sql<{
    name: string
    sql: string
  }>`SELECT name, sql FROM sqlite_master WHERE type = 'trigger' AND sql LIKE '%AFTER INSERT ON sounds BEGIN INSERT INTO find_changes%'`.execute(
    db,
  )
  for (const { name, sql: text } of rows) {
    await sql.raw(`DROP TRIGGER ${name}`).execute(db)
    const whenSeen = 'WHEN new.generation <= (SELECT generation FROM sources WHERE id = new.source_id) BEGIN'
    await sql.raw(text.replace('BEGIN', whenSeen)).execute(db)
  }
}
