import { type ClauseKey, type Papers, type PlanSighting, planPeriodEnd } from '../../core/rights'
import { isOneOf } from '../database/is-one-of'
import { type Db, dayOf } from '../database/open'
import { loadOpenWords, saidOtherwise } from '../rows/open-proposals'
import { type TermsRow, termsOfRow } from '../terms/terms-store'

/** Papers on file for a sound, with what the interface shows of them. */
export interface FiledPapers {
  readonly grantId: number
  readonly soundId: number
  readonly kind: string
  readonly copySha256: string
  readonly servedSha256: string | null
  /** SHA-256 of every form of the audio that the papers hold for. */
  readonly contents: readonly string[]
  /** Whether the sound's audio of today is one of them; true while there is none. */
  readonly isForCurrent: boolean
  readonly acquiredAt: string
  readonly licensee: string
  readonly termsId: number
  readonly termsShortTitle: string
  readonly termsSha256: string
  readonly creditLine: string | null
  readonly orderRef: string
  readonly paidMinor: number | null
  readonly paidCurrency: string | null
  readonly evidence: readonly { readonly id: number; readonly fileName: string; readonly mime: string }[]
  readonly papers: Papers
}

/**
 * All papers of some sounds, by sound, newest first; what was taken back is left out.
 *
 * @param videoId Video that they are weighed for: duties that were met for it count.
 */
export async function loadPapers(
  db: Db,
  soundIds: readonly number[],
  videoId: number | null = null,
): Promise<Map<number, FiledPapers[]>> {
  const bySound = new Map<number, FiledPapers[]>()
  if (soundIds.length === 0) return bySound
  const rows = await grantRows(db, soundIds)
  const ids = rows.map(({ id }) => id)
  const records =
    ids.length === 0
      ? []
      : await db
          .selectFrom('grant_videos')
          .selectAll()
          .where('grant_id', 'in', ids)
          .orderBy('at')
          .orderBy('video_id')
          .execute()
  const files =
    ids.length === 0
      ? []
      : await db.selectFrom('evidence').selectAll().where('grant_id', 'in', ids).orderBy('id').execute()
  const planned = rows.filter(({ plan_until }) => plan_until !== null).map(({ source_id }) => source_id)
  const sightings = await loadSightings(db, [...new Set(planned)])
  const declared = rows.filter(({ kind }) => kind === 'declared').map(({ sound_id }) => sound_id)
  const words = await loadOpenWords(db, declared)
  const recordsOf = grouped(records)
  const filesOf = grouped(files)
  const termsById = new Map<number, Papers['terms']>()
  for (const row of rows) {
    const own = recordsOf.get(row.id) ?? []
    const evidence = filesOf.get(row.id) ?? []
    const terms = termsById.get(row.terms_id) ?? termsOfRow(row satisfies TermsRow)
    termsById.set(row.terms_id, terms)
    const contents = [row.copy_sha256, row.served_sha256, row.heard_sha256].filter((sha256) => sha256 !== null)
    const filed: FiledPapers = {
      grantId: row.id,
      soundId: row.sound_id,
      kind: row.kind,
      copySha256: row.copy_sha256,
      servedSha256: row.served_sha256,
      contents,
      isForCurrent: row.audio_sha256 === null || contents.includes(row.audio_sha256),
      acquiredAt: row.acquired_at,
      licensee: row.licensee,
      termsId: row.terms_id,
      termsShortTitle: row.short_title,
      termsSha256: row.terms_sha256,
      creditLine: row.credit_line,
      orderRef: row.order_ref,
      paidMinor: row.paid_minor,
      paidCurrency: row.paid_currency,
      evidence: evidence.map(({ id, file_name: fileName, mime }) => ({ id, fileName, mime })),
      papers: {
        terms,
        grantTitle: row.grant_title,
        planFrom: row.plan_from,
        planUntil: periodEnd(row, sightings.get(row.source_id) ?? []),
        acquiredOn: dayOf(row.acquired_at),
        declared: row.kind === 'declared' ? { by: row.licensee, on: declaredOn(row) } : null,
        contradictedBy: row.kind === 'declared' ? saidOtherwise(terms, words.get(row.sound_id) ?? []) : null,
        boundTo: own.filter(({ key }) => key === 'projects').map(({ video_id }) => video_id),
        met: own
          .filter(({ video_id, key }) => video_id === videoId && key !== 'projects')
          .map(({ key }) => key as ClauseKey),
        // A note in a text file may be anyone's: it is kept, and proves nothing.
        hasProof: evidence.some(({ mime }) => mime !== 'text/plain'),
      },
    }
    const known = bySound.get(row.sound_id)
    if (known) known.push(filed)
    else bySound.set(row.sound_id, [filed])
  }
  return bySound
}

/** Rows by the grant that they are of. */
function grouped<T extends { readonly grant_id: number }>(rows: readonly T[]): Map<number, T[]> {
  const groups = new Map<number, T[]>()
  for (const row of rows) {
    const known = groups.get(row.grant_id)
    if (known) known.push(row)
    else groups.set(row.grant_id, [row])
  }
  return groups
}

function grantRows(db: Db, soundIds: readonly number[]) {
  return db
    .selectFrom('active_grants as grants')
    .innerJoin('terms', 'terms.id', 'grants.terms_id')
    .leftJoin('analyses', 'analyses.sound_id', 'grants.sound_id')
    .innerJoin('sounds', 'sounds.id', 'grants.sound_id')
    .select(['grants.id', 'grants.sound_id', 'copy_sha256', 'acquired_at', 'licensee', 'credit_line', 'order_ref'])
    .select(['grants.plan_from', 'grants.plan_until', 'grants.kind', 'served_sha256', 'paid_minor', 'paid_currency'])
    .select(['grants.title as grant_title', 'terms.sha256 as terms_sha256', 'terms.title', 'short_title', 'version'])
    .select(['spdx_id', 'terms.url', 'duration', 'clauses_json', 'grants.terms_id'])
    .select(['sounds.source_id', 'heard_sha256', 'analyses.audio_sha256'])
    .where(isOneOf('grants.sound_id', soundIds))
    .orderBy('grants.id', 'desc')
    .execute()
}

/** The day of a declaration stands in its reference; what it was acquired on is the creator's word. */
function declaredOn({ order_ref, acquired_at }: { order_ref: string; acquired_at: string }): string {
  return dayOf(/^declared-(\d{4}-.*Z)$/.exec(order_ref)?.[1] ?? acquired_at)
}

/** The end of the plan period that a copy was acquired in, by all that was seen of the plan since. */
function periodEnd(
  row: { grant_title: string; plan_from: string | null; plan_until: string | null; acquired_at: string },
  sightings: readonly PlanSighting[],
): string | null {
  const { grant_title: plan, plan_from: from, plan_until: until, acquired_at } = row
  if (from === null || until === null) return until
  return planPeriodEnd({ plan, from, until, acquiredAt: acquired_at }, sightings)
}

/** What was seen of the plans of some sources, by source. */
async function loadSightings(db: Db, sourceIds: readonly string[]): Promise<Map<string, PlanSighting[]>> {
  const bySource = new Map<string, PlanSighting[]>()
  if (sourceIds.length === 0) return bySource
  const rows = await db
    .selectFrom('plan_periods')
    .selectAll()
    .where('source_id', 'in', [...sourceIds])
    .orderBy('seen_at')
    .execute()
  for (const { source_id, seen_at, plan, plan_from: from, plan_until: until } of rows) {
    const known = bySource.get(source_id) ?? []
    bySource.set(source_id, [...known, { seenAt: seen_at, seenOn: dayOf(seen_at), plan, from, until }])
  }
  return bySource
}
