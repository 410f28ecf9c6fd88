import type { TermsPage } from '../../contract'
import { plainTerms } from '../../core/rights'
import { terms as messages } from '../../messages/server/terms'
import type { Services } from '../context'
import { notFound } from '../domain-error'
import { latestDetections } from '../rows/latest-detections'
import type { Pool } from '../workers/pool'
import { pointsToConfirm } from './confirm-policy'
import { countOffered } from './offered-counts'
import { isUnconfirmed } from './policy-key'
import { differencesInWorker } from './read-text'
import { termsOfRow } from './terms-store'

const COPIES_SHOWN = 60

/** One version of terms, with its other versions and what stands under it. @throws {DomainError} not-found. */
export async function getTermsPage(
  { db, interactivePool }: Pick<Services, 'db' | 'interactivePool'>,
  id: number,
): Promise<TermsPage> {
  const row = await db
    .selectFrom('terms')
    .innerJoin('sources', 'sources.id', 'terms.source_id')
    .selectAll('terms')
    .select('sources.name as source_name')
    .where('terms.id', '=', id)
    .executeTakeFirst()
  if (!row) throw notFound(messages.thisVersionOfTheTerms)
  const versions = await db
    .selectFrom('terms')
    .select(['id', 'version', 'seen_at', 'text'])
    .where('source_id', '=', row.source_id)
    .where('key', '=', row.key)
    .orderBy('id', 'desc')
    .execute()
  const before = versions.find((one) => one.id < id)
  const terms = termsOfRow(row)
  const grants = db.selectFrom('active_grants').where('active_grants.terms_id', '=', id)
  const copies = await grants
    .innerJoin('sound_rows', 'sound_rows.id', 'active_grants.sound_id')
    .select(['sound_rows.id as soundId', 'active_grants.acquired_at as acquiredAt', 'shown_title as title'])
    .orderBy('active_grants.id', 'desc')
    .limit(COPIES_SHOWN)
    .execute()
  const { copyCount } = await grants.select((eb) => eb.fn.countAll<number>().as('copyCount')).executeTakeFirstOrThrow()
  return {
    id,
    sourceName: row.source_name,
    title: row.title,
    version: row.version,
    spdxId: row.spdx_id,
    url: row.url,
    text: row.text,
    sha256: row.sha256,
    seenAt: row.seen_at,
    duration: terms.duration,
    plain: mutable(plainTerms(terms)),
    clauses: terms.clauses.map((clause) => ({ ...clause })),
    toConfirm: isUnconfirmed(row.key) ? pointsToConfirm(terms.clauses).map(({ key }) => key) : null,
    versions: versions.map((one) => ({ id: one.id, version: one.version, seenAt: one.seen_at })),
    differences: before ? await versionDifferences(interactivePool, before.text, row.text) : null,
    offeredCount: (await countOffered(db)).get(id) ?? 0,
    copies,
    copyCount,
    videos: await videosUnder(db, id),
  }
}

/** Versions that cannot be compared in time are shown by how they begin. */
async function versionDifferences(
  pool: Pool,
  before: string,
  after: string,
): Promise<NonNullable<TermsPage['differences']>> {
  const parts = (await differencesInWorker(pool, { before, after })) ?? [
    { kind: 'gone' as const, text: before },
    { kind: 'new' as const, text: after },
  ]
  return parts.map(({ kind, text }) => ({
    kind,
    text: text.length > PART_SHOWN ? `${text.slice(0, PART_SHOWN)} …` : text,
  }))
}

/** Letters of one part that are shown: the whole text stands below. */
const PART_SHOWN = 20_000

function mutable(plain: ReturnType<typeof plainTerms>): TermsPage['plain'] {
  return { may: [...plain.may], mayNot: [...plain.mayNot], owed: [...plain.owed], silent: [...plain.silent] }
}

/** Videos in whose newest check a sound was heard that has papers under these terms. */
function videosUnder(db: Services['db'], termsId: number) {
  return latestDetections(db)
    .innerJoin('active_grants', 'active_grants.sound_id', 'detections.sound_id')
    .select(['videos.id', 'videos.title'])
    .distinct()
    .where('active_grants.terms_id', '=', termsId)
    .execute()
}
