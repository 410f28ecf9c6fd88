import type { MomentsChange, MomentsChanged, VideoMoments } from '../../contract'
import { applied, EditError, type MomentsDocument } from '../../core/moments'
import type { Services } from '../context'
import { cutOf, cutVersionOf, getCutRow, loadCutJobs, loadCutVersions } from '../cuts/cut-rows'
import { isOneOf } from '../database/is-one-of'
import type { Db } from '../database/open'
import { DomainError } from '../domain-error'
import { findMomentsRow, writeMoments } from '../rows/moments-rows'
import { getVideoRow } from '../rows/video-rows'

/** What is planned for a video, and its cut. @throws {DomainError} not-found. */
export async function getMoments({ db }: Pick<Services, 'db'>, videoId: number): Promise<VideoMoments> {
  await getVideoRow(db, videoId)
  const { revision, document, cutId } = await findMomentsRow(db, videoId)
  const rows = await loadCutVersions(db, videoId)
  const jobs = await loadCutJobs(db)
  // The times are of this cut; where it was removed, the newest that was read is shown.
  const shown = rows.find(({ id }) => id === cutId) ?? rows.find(({ state }) => state === 'done')
  return {
    revision,
    document,
    cut: shown?.state === 'done' ? cutOf(await getCutRow(db, shown.id), jobs) : null,
    versions: rows.map((one) => cutVersionOf(one, jobs)),
    soundTitles: await loadSoundTitles(db, document),
  }
}

export async function loadSoundTitles(db: Db, { moments }: MomentsDocument): Promise<Record<string, string>> {
  const ids = new Set(
    moments.flatMap(({ soundId, shortList }) => [soundId ?? 0, ...shortList.map((one) => one.soundId)]),
  )
  const rows = await db
    .selectFrom('sound_rows')
    .select(['id', 'shown_title'])
    .where(isOneOf('id', [...ids]))
    .execute()
  return Object.fromEntries(rows.map(({ id, shown_title }) => [String(id), shown_title]))
}

/**
 * Does edits on the revision that they were made on. When another tab was faster, nothing is done.
 *
 * @throws {DomainError} not-found, bad-edit.
 */
export async function changeMoments(
  { db }: Pick<Services, 'db'>,
  videoId: number,
  { revision, edits }: MomentsChange,
): Promise<MomentsChanged> {
  await getVideoRow(db, videoId)
  return db.transaction().execute(async (trx) => {
    const now = await findMomentsRow(trx, videoId)
    if (now.revision !== revision)
      return { outcome: 'changed-meanwhile', revision: now.revision, document: now.document }
    let document = now.document
    try {
      for (const edit of edits) document = applied(document, edit).document
    } catch (error) {
      if (error instanceof EditError) throw new DomainError('bad-edit', error.message, { cause: error })
      throw error
    }
    await writeMoments(trx, videoId, { ...now, revision: revision + 1, document })
    return { outcome: 'saved', revision: revision + 1 }
  })
}
