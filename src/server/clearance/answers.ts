import type { AnswerInput } from '../../contract'
import { ABOUT_WHICH, clearance, isSamePoint } from '../../core/clearance'
import { clearance as messages } from '../../messages/server/clearance'
import type { App } from '../context'
import { type Db, nowIso } from '../database/open'
import { DomainError, notFound } from '../domain-error'
import { appendToLedger } from '../ledger/ledger'
import { findCurrentCheck, getFacts } from '../rows/check-facts'
import { getVideoRow, usesOfRow } from '../rows/video-rows'
import { loadClearanceInput } from './clearance-input'

/**
 * Puts a creator's answer to a point on record, with an entry in the ledger. It holds for the file that was checked, at that place.
 *
 * @param asOf Today, YYYY-MM-DD.
 * @throws {DomainError} not-found, not-checked, no-such-point, not-an-answer.
 */
export async function answerPoint(
  app: Pick<App, 'db'>,
  videoId: number,
  said: AnswerInput,
  asOf: string,
): Promise<{ answerId: number }> {
  const { db } = app
  const video = await getVideoRow(db, videoId)
  const { factsSha256 } = await findCurrentCheck(db, videoId)
  if (factsSha256 === null) throw new DomainError('not-checked', messages.newestFileNotCheckedYet)
  const facts = await getFacts(db, factsSha256)
  const asked = { id: videoId, uses: usesOfRow(video) }
  const { points } = clearance(await loadClearanceInput(app, asked, { asOf }))
  const point = points.find((one) => isSamePoint(one, { ...said, kind: said.pointKind }))
  if (!point) throw new DomainError('no-such-point', messages.thisPointNotAsWas)
  if (!point.answerKinds.includes(said.kind)) throw new DomainError('not-an-answer', messages.thisPointCannotBeSettled)
  if (said.kind === 'from') await requireSound(db, ABOUT_WHICH.includes(point.kind) ? point.soundIds : null, said)
  return db.transaction().execute(async (trx) => {
    const { id } = await trx
      .insertInto('point_answers')
      .values({
        video_id: videoId,
        point_kind: said.pointKind,
        file_sha256: facts.file.sha256,
        track_index: said.trackIndex,
        places_json: JSON.stringify(said.places),
        sound_ids_json: JSON.stringify(said.soundIds),
        kind: said.kind,
        from_sound_id: said.fromSoundId,
        reason: said.reason,
        by_name: said.by,
        at: nowIso(),
        undone_at: null,
      })
      .returning('id')
      .executeTakeFirstOrThrow()
    await appendToLedger(trx, 'answered', {
      answerId: id,
      videoId,
      video: video.title,
      fileSha256: facts.file.sha256,
      factsSha256,
      point: said.pointKind,
      track: said.trackIndex,
      places: said.places,
      answer: said.kind,
      fromSoundId: said.fromSoundId,
      reason: said.reason,
      by: said.by,
    })
    return { answerId: id }
  })
}

async function requireSound(db: Db, among: readonly number[] | null, { fromSoundId }: AnswerInput): Promise<void> {
  const id = fromSoundId ?? 0
  if (among && !among.includes(id)) throw notFound(messages.thisCopy)
  const sound = await db.selectFrom('sounds').select('id').where('id', '=', id).executeTakeFirst()
  if (!sound) throw notFound(messages.thisSound)
}

/** Undoes an answer, or brings it back. It stays on record. @throws {DomainError} not-found. */
export async function undoAnswer({ db }: Pick<App, 'db'>, answerId: number, undone: boolean): Promise<void> {
  await db.transaction().execute(async (trx) => {
    const row = await trx
      .updateTable('point_answers')
      .set({ undone_at: undone ? nowIso() : null })
      .where('id', '=', answerId)
      .returning(['id', 'video_id', 'point_kind'])
      .executeTakeFirst()
    if (!row) throw notFound(messages.thisAnswer)
    const body = { answerId, videoId: row.video_id, point: row.point_kind }
    if (undone) await appendToLedger(trx, 'answer-undone', body)
    else await appendToLedger(trx, 'answered', { ...body, again: true })
  })
}
