import type { ScoreChange, ScoreChanged, VideoScore } from '../../contract'
import { ScoreError, scoreWithEdit } from '../../core/score'
import type { Services } from '../context'
import { DomainError } from '../domain-error'
import { findScoreRow, writeScore } from '../rows/score-rows'
import { getVideoRow } from '../rows/video-rows'
import { loadMixes } from './mix-rows'

/** What is placed in a video, and the mixes that were written of it. @throws {DomainError} not-found. */
export async function getScore({ db }: Pick<Services, 'db'>, videoId: number): Promise<VideoScore> {
  await getVideoRow(db, videoId)
  return { ...(await findScoreRow(db, videoId)), mixes: await loadMixes(db, videoId) }
}

/**
 * Does edits on the revision that they were made on. When another tab was faster, nothing is done.
 *
 * @throws {DomainError} not-found, bad-edit.
 */
export async function changeScore(
  { db }: Pick<Services, 'db'>,
  videoId: number,
  { revision, edits }: ScoreChange,
): Promise<ScoreChanged> {
  await getVideoRow(db, videoId)
  return db.transaction().execute(async (trx) => {
    const now = await findScoreRow(trx, videoId)
    if (now.revision !== revision)
      return { outcome: 'changed-meanwhile', revision: now.revision, document: now.document }
    let { document } = now
    try {
      for (const edit of edits) document = scoreWithEdit(document, edit).document
    } catch (error) {
      if (error instanceof ScoreError) throw new DomainError('bad-edit', error.message, { cause: error })
      throw error
    }
    await writeScore(trx, videoId, { revision: revision + 1, document })
    return { outcome: 'saved', revision: revision + 1 }
  })
}
