import { type Kysely, sql } from 'kysely'

/** What a sound is called, where it is from and on which terms, with everything its catalogue says: one selection for all who show it. */
export async function soundRows(db: Kysely<unknown>): Promise<void> {
  await sql`DROP VIEW sound_rows`.execute(db)
  await sql`CREATE VIEW sound_rows AS SELECT sounds.id, coalesce(sounds.own_title, sounds.title) AS shown_title,
    sounds.title AS original_title, sounds.own_title IS NOT NULL AS is_renamed, sounds.maker, sounds.external_id, sounds.description,
    sounds.tags_json, sounds.category, sounds.kind, sounds.tempo_bpm, sounds.mood, sounds.vocals, sounds.popularity, sounds.added_at,
    sounds.duration_s, sounds.formats_json, sounds.cost, sounds.page_url, sounds.withdrawn_at, sounds.source_id,
    sources.name AS source_name, sources.kind AS source_kind, sources.plan, sources.plan_from, sources.plan_until, sounds.terms_id,
    terms.key AS terms_key, terms.title AS terms_title, terms.short_title, terms.version, terms.spdx_id, terms.url, terms.duration,
    terms.clauses_json, terms.sha256 AS terms_sha256
    FROM sounds JOIN sources ON sources.id = sounds.source_id JOIN terms ON terms.id = sounds.terms_id`.execute(db)
}
