import type { CountQuery, SoundCounts, SoundPage, SoundQuery, SoundSummary } from '../../contract'
import { parsedQuery } from '../../core/finding'
import { alikeFraction, type Traits, traitDifferences } from '../../core/likeness'
import { type DecisionContext, fitOf } from '../../core/rights'
import { sounds as messages } from '../../messages/server/sounds'
import { loadFitTable } from '../clearance/fit-table'
import { loadPapers } from '../clearance/papers-of'
import { decideFromPapersOrOffer, loadTierOffers } from '../clearance/weigh'
import type { Services } from '../context'
import { isOneOf } from '../database/is-one-of'
import { notFound } from '../domain-error'
import { mostBehindMs } from '../finding/behind'
import type { LikeWhat } from '../ports/finder-messages'
import { countHeard } from '../rows/heard-counts'
import { countChoices } from './choices'
import { thinnedPrint } from './thin-print'

type Finding = Pick<Services, 'db' | 'finder'>

/** One page of the search over all libraries and folders; an empty query lists everything by name. */
export async function searchSounds(
  services: Finding,
  { q, like, sort, limit, offset }: SoundQuery,
  context: DecisionContext | null,
): Promise<SoundPage> {
  const query = parsedQuery(q)
  const compared = like ? await loadComparison(services, like) : null
  const weighs = query.filters.some(({ kind }) => kind === 'fit')
  const fits = context && weighs ? await loadFitTable(services, context) : null
  const found = await services.finder.ask('find', { query, sort, limit, offset, like: compared?.what ?? null, fits })
  const used = new Map(found.ids.map((id, at) => [id, found.usedCounts[at] ?? 0]))
  const sounds = await loadSummaries(services, found.ids, context, used)
  const { total, catalogueTotal, corrections, hides } = found
  return {
    sounds: compared ? await addLikeness(services, sounds, found, compared.traits) : sounds,
    total,
    catalogueTotal,
    corrections: [...corrections],
    hides: [...hides],
    likeTitle: compared?.title ?? null,
    behindMs: mostBehindMs([found, fits]),
  }
}

/** How many sounds there are for each value of some kinds of conditions. */
export async function countSounds(
  services: Finding,
  { q, like, kinds }: CountQuery,
  context: DecisionContext | null,
): Promise<SoundCounts> {
  const query = parsedQuery(q)
  const compared = like ? await loadComparison(services, like) : null
  const weighs = kinds.includes('fit') || query.filters.some(({ kind }) => kind === 'fit')
  const fits = context && weighs ? await loadFitTable(services, context) : null
  const task = { query, like: compared?.what ?? null, fits, kinds }
  const counted = await services.finder.ask('count', task)
  return { ...counted.counts, behindMs: mostBehindMs([counted, fits]) } as SoundCounts
}

interface Compared {
  readonly what: LikeWhat
  readonly title: string
  readonly traits: Traits | null
}

/** @throws {DomainError} not-found. */
async function loadComparison({ db }: Finding, like: NonNullable<SoundQuery['like']>): Promise<Compared> {
  if (like.kind === 'probe') {
    const probe = await db.selectFrom('probes').selectAll().where('id', '=', like.id).executeTakeFirst()
    if (!probe) throw notFound(messages.whatYouComparedWith)
    const vector = new Float32Array(new Uint8Array(probe.vector).buffer)
    return { what: { kind: 'vector', vector }, title: probe.title, traits: JSON.parse(probe.traits_json) as Traits }
  }
  const sound = await db
    .selectFrom('sound_rows')
    .leftJoin('likeness', 'likeness.sound_id', 'sound_rows.id')
    .select(['shown_title', 'traits_json'])
    .where('id', '=', like.id)
    .executeTakeFirst()
  if (!sound) throw notFound(messages.thisSound)
  const traits = sound.traits_json === null ? null : (JSON.parse(sound.traits_json) as Traits)
  return { what: { kind: 'sound', id: like.id }, title: sound.shown_title, traits }
}

async function addLikeness(
  { db }: Pick<Services, 'db'>,
  sounds: readonly SoundSummary[],
  { ids, likeness }: { ids: readonly number[]; likeness: readonly number[] },
  from: Traits | null,
): Promise<SoundSummary[]> {
  if (ids.length === 0) return []
  const rows = await db
    .selectFrom('likeness')
    .select(['sound_id', 'traits_json'])
    .where('sound_id', 'in', [...ids])
    .execute()
  const traits = new Map(rows.map((row) => [row.sound_id, JSON.parse(row.traits_json) as Traits]))
  const fractions = new Map(ids.map((id, at) => [id, likeness[at] ?? 0]))
  return sounds.map((sound) => {
    const own = traits.get(sound.id)
    const differences = from && own ? traitDifferences(own, from) : []
    return { ...sound, likeness: { fraction: alikeFraction(fractions.get(sound.id) ?? 0), differences } }
  })
}

/**
 * Summaries of some sounds, in the order context for; ids that are not there are left out.
 *
 * @param used In how many videos each was heard, where that is known already.
 */
export async function loadSummaries(
  { db }: Pick<Services, 'db'>,
  ids: readonly number[],
  context: DecisionContext | null,
  used: ReadonlyMap<number, number> | null = null,
): Promise<SoundSummary[]> {
  if (ids.length === 0) return []
  const rows = await db
    .selectFrom('sound_rows')
    .leftJoin('analyses', 'analyses.sound_id', 'sound_rows.id')
    .leftJoin('keeps', 'keeps.sound_id', 'sound_rows.id')
    .selectAll('sound_rows')
    .select(['keeps.kept_at', 'analyses.audio_sha256', 'analyses.duration_s as measured_s'])
    .select(['analyses.loudness_lufs', 'analyses.hit_s', 'analyses.print_column_s', 'analyses.print_levels'])
    .where(isOneOf('sound_rows.id', ids))
    .execute()
  const papers = await loadPapers(db, ids, context?.videoId ?? null)
  const tiers = await loadTierOffers(db, ids, context?.videoId ?? null)
  const heard = used ?? (await countHeard(db, ids))
  const choices = await countChoices(db, ids)
  const byId = new Map(
    rows.map((row): [number, SoundSummary] => {
      const filed = papers.get(row.id) ?? []
      const decision = context ? decideFromPapersOrOffer(context, filed, row, tiers.get(row.id) ?? []) : null
      return [
        row.id,
        {
          id: row.id,
          title: row.shown_title,
          maker: row.maker,
          category: row.category,
          source: { id: row.source_id, name: row.source_name, kind: sourceKind(row.source_kind) },
          kind: row.kind as SoundSummary['kind'],
          // What was measured is truer than what the catalogue says.
          durationS: row.measured_s ?? row.duration_s,
          cost: row.cost,
          sold: tiers.has(row.id),
          licence: filed[0]?.termsShortTitle ?? row.short_title,
          loudnessLufs: row.loudness_lufs,
          hitS: row.hit_s,
          print: row.print_levels && row.print_column_s ? thinnedPrint(row.print_column_s, row.print_levels) : null,
          fit: decision ? fitOf(decision) : null,
          // A file of the creator's own is a copy whether it has papers or not.
          copySha256: filed[0]?.copySha256 ?? (row.source_kind === 'library' ? null : row.audio_sha256),
          audioSha256: row.audio_sha256,
          withdrawn: row.withdrawn_at !== null,
          kept: row.kept_at !== null,
          choiceCount: choices.get(row.id) ?? 0,
          usedCount: heard.get(row.id) ?? 0,
          likeness: null,
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
