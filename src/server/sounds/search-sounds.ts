import { sql } from 'kysely'
import type { SoundPage, SoundQuery, SoundSummary } from '../../contract'
import { ftsQuery } from '../../core/finding'
import { fitOf } from '../../core/rights'
import type { Services } from '../services'
import { type Asked, papersOf } from './papers-of'
import { thinnedPrint } from './thin-print'
import { tierOffers, weighed } from './weigh'

/** Weights of title, tags, category, maker and description in the ranking. */
const RANK = sql<number>`bm25(sounds_fts, 10.0, 4.0, 2.0, 2.0, 1.0)`

/** One page of the search over all libraries; an empty query lists everything by title. */
export async function searchSounds(
  { db }: Pick<Services, 'db'>,
  { q, limit, offset }: SoundQuery,
  asked: Asked | null,
): Promise<SoundPage> {
  const match = ftsQuery(q)
  const base = db.selectFrom('sounds').where('sounds.withdrawn_at', 'is', null)
  const matching =
    match === null
      ? base
      : base.where(sql<boolean>`sounds.id IN (SELECT rowid FROM sounds_fts WHERE sounds_fts MATCH ${match})`)
  const [{ total }, { catalogueTotal }] = await Promise.all([
    matching.select((eb) => eb.fn.countAll<number>().as('total')).executeTakeFirstOrThrow(),
    base.select((eb) => eb.fn.countAll<number>().as('catalogueTotal')).executeTakeFirstOrThrow(),
  ])
  const ids =
    match === null
      ? await matching
          .select('sounds.id')
          .orderBy(sql`title COLLATE NOCASE`)
          .orderBy('id')
          .limit(limit)
          .offset(offset)
          .execute()
      : (
          await sql<{ id: number }>`
            SELECT s.id FROM sounds_fts JOIN sounds s ON s.id = sounds_fts.rowid
            WHERE sounds_fts MATCH ${match} AND s.withdrawn_at IS NULL
            ORDER BY ${RANK}, length(s.title), s.id LIMIT ${limit} OFFSET ${offset}`.execute(db)
        ).rows
  return {
    sounds: await summaries(
      { db },
      ids.map(({ id }) => id),
      asked,
    ),
    total,
    catalogueTotal,
  }
}

/** Summaries of some sounds, in the order asked for; ids that are not there are left out. */
export async function summaries(
  { db }: Pick<Services, 'db'>,
  ids: readonly number[],
  asked: Asked | null,
): Promise<SoundSummary[]> {
  if (ids.length === 0) return []
  const rows = await db
    .selectFrom('sounds')
    .innerJoin('sources', 'sources.id', 'sounds.source_id')
    .innerJoin('terms', 'terms.id', 'sounds.terms_id')
    .leftJoin('analyses', 'analyses.sound_id', 'sounds.id')
    .select(['sounds.id', 'sounds.title', 'sounds.maker', 'sounds.category', 'sounds.cost', 'sounds.withdrawn_at'])
    .select(['sounds.duration_s', 'sounds.source_id', 'sources.name as source_name', 'sources.plan', 'sounds.kind'])
    .select(['sources.kind as source_kind', 'analyses.audio_sha256'])
    .select(['sources.plan_from', 'sources.plan_until', 'terms.title as terms_title', 'terms.short_title'])
    .select(['terms.version', 'terms.spdx_id', 'terms.url', 'terms.duration', 'terms.clauses_json'])
    .select(['analyses.loudness_lufs', 'analyses.hit_s', 'analyses.print_column_s', 'analyses.print_levels'])
    .select('analyses.duration_s as measured_s')
    .where('sounds.id', 'in', [...ids])
    .execute()
  const papers = await papersOf(db, ids, asked?.videoId ?? null)
  const tiers = await tierOffers(db, ids, asked?.videoId ?? null)
  const byId = new Map(
    rows.map((row): [number, SoundSummary] => {
      const filed = papers.get(row.id) ?? []
      const decision = asked ? weighed(asked, filed, { ...row, title: row.terms_title }, tiers.get(row.id) ?? []) : null
      return [
        row.id,
        {
          id: row.id,
          title: row.title,
          maker: row.maker,
          category: row.category,
          source: { id: row.source_id, name: row.source_name, kind: sourceKind(row.source_kind) },
          kind: row.kind as SoundSummary['kind'],
          // What was measured is truer than what the catalogue says.
          durationS: row.measured_s ?? row.duration_s,
          cost: row.cost,
          sold: tiers.has(row.id),
          licence: row.short_title,
          loudnessLufs: row.loudness_lufs,
          hitS: row.hit_s,
          print: row.print_levels && row.print_column_s ? thinnedPrint(row.print_column_s, row.print_levels) : null,
          fit: decision ? fitOf(decision) : null,
          // A file of the creator's own is a copy whether it has papers or not.
          copySha256: filed[0]?.copySha256 ?? (row.source_kind === 'library' ? null : row.audio_sha256),
          withdrawn: row.withdrawn_at !== null,
        },
      ]
    }),
  )
  return ids.flatMap((id) => byId.get(id) ?? [])
}

/** Kind of a source for the interface; a folder that was removed is still spoken of as one. */
function sourceKind(kind: string): SoundSummary['source']['kind'] {
  return kind === 'library' || kind === 'elsewhere' ? kind : 'folder'
}
