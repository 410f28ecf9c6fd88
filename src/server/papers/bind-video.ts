import { CLAUSE_KEYS, type ClauseKey, clauseOf, limitWords } from '../../core/rights'
import { papers as messages } from '../../messages/server/papers'
import { type Db, nowIso } from '../database/db'
import { inTransaction } from '../database/in-transaction'
import { DomainError } from '../domain-error'
import { appendToLedger } from '../ledger/ledger'
import { termsOfRow } from '../terms/terms-store'

/**
 * Puts on record that a grant is for a video (key "projects"), or that a duty of its terms was met for it.
 *
 * @throws {DomainError} bad-key, not-found, all-bound.
 */
export function bindVideo(handle: Db, record: VideoRecord): Promise<void> {
  return inTransaction(handle, (db) => bindIn(db, record))
}

/** That papers are for a video, or met a duty for it. */
interface VideoRecord {
  readonly grantId: number
  readonly videoId: number
  readonly key: string
  readonly note: string
}

async function bindIn(db: Db, { grantId, videoId, key, note }: VideoRecord): Promise<void> {
  if (!CLAUSE_KEYS.includes(key as ClauseKey)) throw new DomainError('bad-key', messages.thisNoPointAnyTerms)
  const grant = await db.selectFrom('grants').select(['id', 'title']).where('id', '=', grantId).executeTakeFirst()
  const video = await db.selectFrom('videos').select(['id', 'title']).where('id', '=', videoId).executeTakeFirst()
  if (!grant || !video) throw new DomainError('not-found', messages.thesePapersOrThisVideo)
  if (key === 'projects') await requireRoom(db, { grantId, videoId })
  const written = await db
    .insertInto('grant_videos')
    .values({ grant_id: grantId, video_id: videoId, key, note, at: nowIso() })
    .onConflict((conflict) => conflict.doNothing())
    .returning('grant_id')
    .executeTakeFirst()
  if (!written) return
  const kind = key === 'projects' ? 'declared' : 'settled'
  await appendToLedger(db, kind, { grantId, grant: grant.title, videoId, video: video.title, point: key, note })
}

/** A purchase that is named for as many videos as its terms allow is for no other. */
async function requireRoom(db: Db, { grantId, videoId }: { grantId: number; videoId: number }): Promise<void> {
  const row = await db
    .selectFrom('grants')
    .innerJoin('terms', 'terms.id', 'grants.terms_id')
    .selectAll('terms')
    .where('grants.id', '=', grantId)
    .executeTakeFirstOrThrow()
  const { limit } = clauseOf(termsOfRow(row), 'projects')
  if (limit?.kind !== 'videos') return
  const named = await db
    .selectFrom('grant_videos')
    .select('video_id')
    .where('grant_id', '=', grantId)
    .where('key', '=', 'projects')
    .execute()
  if (named.some(({ video_id }) => video_id === videoId) || named.length < limit.max) return
  throw new DomainError('all-bound', messages.thesePapersAreForAnd(limitWords(limit)))
}
