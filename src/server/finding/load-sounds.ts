import { sql } from 'kysely'
import { type CostKind, categoryOf, dayOf, type FindingSound, type SoundKind } from '../../core/finding'
import { LIKENESS_VERSION } from '../../core/likeness'
import type { Clause } from '../../core/rights'
import type { Db } from '../database/db'
import { countHeard } from '../rows/heard-counts'

/** Sounds read at a time. */
const CHUNK = 2_000
/** SQLite takes so many values in one statement at least. */
const IDS_A_QUERY = 500

/** Calls with every sound that is offered, in rising order of ids. */
export async function eachSound(db: Db, act: (sound: FindingSound) => void): Promise<void> {
  const about = await loadShared(db)
  for (let after = 0; ; ) {
    const rows = await rowsOf(db).where('sound_rows.id', '>', after).orderBy('sound_rows.id').limit(CHUNK).execute()
    for (const row of rows) act(findingSound(row, about))
    const last = rows[rows.length - 1]
    if (!last) return
    after = last.id
  }
}

/** Those of some sounds that are offered, in rising order of ids. */
export async function loadSomeSounds(db: Db, ids: readonly number[]): Promise<FindingSound[]> {
  const about = await loadShared(db)
  const sorted = [...new Set(ids)].sort((a, b) => a - b)
  const sounds: FindingSound[] = []
  for (let at = 0; at < sorted.length; at += IDS_A_QUERY) {
    const rows = await rowsOf(db)
      .where('sound_rows.id', 'in', sorted.slice(at, at + IDS_A_QUERY))
      .orderBy('sound_rows.id')
      .execute()
    sounds.push(...rows.map((row) => findingSound(row, about)))
  }
  return sounds
}

/** What is the same for many sounds. */
async function loadShared(db: Db) {
  const terms = await db.selectFrom('terms').select(['id', 'short_title', 'clauses_json']).execute()
  // One look into an index for each source: all of this is read again whenever a sound changes.
  const most = await db
    .selectFrom('sources')
    .select('id')
    .select((eb) =>
      eb
        .selectFrom('sounds')
        .select((one) => one.fn.max('popularity').as('most'))
        .whereRef('sounds.source_id', '=', 'sources.id')
        .as('most'),
    )
    .execute()
  return {
    terms: new Map(
      terms.map(({ id, short_title, clauses_json }) => {
        const clauses = JSON.parse(clauses_json) as Clause[]
        const creditOwed = clauses.some(({ key, answer }) => key === 'credit' && answer === 'duty')
        return [id, { licence: short_title, creditOwed }]
      }),
    ),
    mostBySource: new Map(most.map((row) => [row.id, row.most ?? 0])),
    usedBySound: await countHeard(db, null),
  }
}
type Known = Awaited<ReturnType<typeof loadShared>>

function rowsOf(db: Db) {
  return (
    db
      .selectFrom('sound_rows')
      .leftJoin('analyses', 'analyses.sound_id', 'sound_rows.id')
      .leftJoin('likeness', (join) =>
        join.onRef('likeness.sound_id', '=', 'sound_rows.id').on('likeness.version', '=', LIKENESS_VERSION),
      )
      .leftJoin('keeps', 'keeps.sound_id', 'sound_rows.id')
      .select(['sound_rows.id', 'shown_title', 'original_title', 'is_renamed', 'maker', 'description', 'tags_json'])
      .select(['category', 'cost', 'source_id', 'source_name', 'source_kind', 'kind', 'sound_rows.terms_id'])
      .select(['tempo_bpm', 'mood', 'vocals', 'popularity', 'added_at', 'sound_rows.duration_s', 'likeness.vector'])
      .select(['analyses.duration_s as measured_s', 'loudness_lufs', 'channels', 'loops', 'keeps.kept_at'])
      .select(
        sql<string | null>`(SELECT group_concat(one.key || ':' || one.terms_id) FROM
        (SELECT key, terms_id FROM sound_tiers WHERE sound_id = sound_rows.id ORDER BY position) AS one)`.as('tiers'),
      )
      .select(
        sql<number | null>`(SELECT min(price_minor) FROM sound_tiers WHERE sound_id = sound_rows.id)`.as('price_minor'),
      )
      .select(
        sql<
          number | null
        >`(SELECT active_grants.terms_id FROM active_grants WHERE active_grants.sound_id = sound_rows.id
        ORDER BY active_grants.id DESC LIMIT 1)`.as('papers_terms_id'),
      )
      .select(
        sql<string | null>`(SELECT group_concat(words) FROM habits WHERE habits.sound_id = sound_rows.id)`.as('habits'),
      )
      .select(
        sql<string | null>`(SELECT path FROM folder_files WHERE folder_files.sound_id = sound_rows.id LIMIT 1)`.as(
          'path',
        ),
      )
      .where('withdrawn_at', 'is', null)
      // What is a choice of an entry is found by way of it.
      .where('choice_of', 'is', null)
  )
}
type Row = Awaited<ReturnType<ReturnType<typeof rowsOf>['execute']>>[number]

function findingSound(row: Row, { terms, mostBySource, usedBySound }: Known): FindingSound {
  const tags = JSON.parse(row.tags_json) as string[]
  const { group, name } = categoryOf(row.category, row.original_title, tags)
  const most = mostBySource.get(row.source_id) ?? 0
  const own = row.source_kind !== 'library'
  // Papers on file count before what is offered.
  const standing = terms.get(row.papers_terms_id ?? row.terms_id)
  return {
    id: row.id,
    title: row.shown_title,
    // What a sound is the habit for is a word for it.
    tags: row.habits === null ? tags : [...row.habits.split(','), ...tags],
    group,
    category: name,
    maker: row.maker,
    folder: folderOf(row.path ?? ''),
    // A sound that was renamed is still found by the name it came with.
    description: row.is_renamed ? `${row.original_title} ${row.description}` : row.description,
    sourceName: row.source_name,
    durationS: row.measured_s ?? row.duration_s,
    loudnessLufs: row.loudness_lufs,
    channels: row.channels,
    loops: row.loops === null ? null : row.loops === 1,
    kind: row.kind as SoundKind,
    tempoBpm: row.tempo_bpm,
    mood: row.mood,
    vocals: row.vocals === null ? null : row.vocals === 1,
    cost: costOf(row, own),
    priceMinor: row.price_minor,
    licence: standing?.licence ?? '',
    creditOwed: standing?.creditOwed ?? false,
    offer: `${row.source_id}|${row.terms_id}|${row.tiers ?? ''}`,
    addedDay: row.added_at === '' ? 0 : dayOf(row.added_at),
    kept: row.kept_at !== null,
    here: own || row.papers_terms_id !== null,
    usedCount: usedBySound.get(row.id) ?? 0,
    popularity: most > 0 ? Math.log1p(row.popularity ?? 0) / Math.log1p(most) : 0,
    vector: row.vector && new Float32Array(new Uint8Array(row.vector).buffer),
  }
}

function costOf({ cost, price_minor }: Row, own: boolean): CostKind {
  if (own) return 'own'
  if (price_minor !== null) return 'buy'
  return cost === 'free' ? 'free' : 'plan'
}

/** The path of a file up to its last slash. */
function folderOf(filePath: string): string {
  return filePath.slice(0, Math.max(filePath.lastIndexOf('/'), filePath.lastIndexOf('\\')) + 1)
}
