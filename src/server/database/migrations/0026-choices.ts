import { type Kysely, sql } from 'kysely'

const STATEMENTS = [
  // The entry that a sound is a choice of, by the id that its library gives it; null for an entry itself.
  `ALTER TABLE sounds ADD COLUMN choice_of TEXT`,
  `ALTER TABLE sounds ADD COLUMN choice_role TEXT`,
  `ALTER TABLE sounds ADD COLUMN choice_name TEXT`,
  `ALTER TABLE sounds ADD COLUMN choice_position INTEGER`,
  `CREATE INDEX sounds_by_entry ON sounds (source_id, choice_of, choice_position) WHERE choice_of IS NOT NULL`,
  // Entries that were found to be what their stems add up to, with the ids of those.
  `CREATE TABLE recording_sums (
    whole_id INTEGER PRIMARY KEY REFERENCES sounds(id) ON DELETE CASCADE, stem_ids_json TEXT NOT NULL
  ) STRICT`,
  `DROP VIEW sound_rows`,
  `CREATE VIEW sound_rows AS SELECT sounds.id, coalesce(sounds.own_title, sounds.title) AS shown_title,
    sounds.title AS original_title, sounds.own_title IS NOT NULL AS is_renamed, sounds.maker, sounds.external_id, sounds.description,
    sounds.tags_json, sounds.category, sounds.kind, sounds.tempo_bpm, sounds.mood, sounds.vocals, sounds.popularity, sounds.added_at,
    sounds.duration_s, sounds.formats_json, sounds.cost, sounds.page_url,
    CASE WHEN sounds.generation > sources.generation THEN sounds.added_at ELSE sounds.withdrawn_at END AS withdrawn_at,
    sounds.source_id, sounds.choice_of, sounds.choice_role, sounds.choice_name, sounds.choice_position,
    sources.name AS source_name, sources.kind AS source_kind, sources.plan, sources.plan_from, sources.plan_until, sounds.terms_id,
    terms.key AS terms_key, terms.title AS terms_title, terms.short_title, terms.version, terms.spdx_id, terms.url, terms.duration,
    terms.clauses_json, terms.sha256 AS terms_sha256
    FROM sounds JOIN sources ON sources.id = sounds.source_id JOIN terms ON terms.id = sounds.terms_id`,
]

/** Stems, parts and versions of an entry are sounds of their own that are shown with it. */
export async function choices(db: Kysely<unknown>): Promise<void> {
  for (const statement of STATEMENTS) await sql.raw(statement).execute(db)
}
