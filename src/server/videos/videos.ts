import type { Video, VideoInput } from '../../contract'
import { findingsOf } from '../clearance/findings'
import type { Services } from '../context'
import { nowIso, todayIso } from '../database/open'
import { notFound } from '../problem-error'
import { getVideoRow, usesOfRow, type VideoRow } from '../rows/video-rows'
import { setSetting } from '../settings'

export async function listVideos(services: Services): Promise<Video[]> {
  const rows = await services.db.selectFrom('videos').selectAll().orderBy('id', 'desc').execute()
  return Promise.all(rows.map((row) => videoOfRow(services, row)))
}

/** @throws {ProblemError} not-found. */
export async function getVideo(services: Services, id: number): Promise<Video> {
  return videoOfRow(services, await getVideoRow(services.db, id))
}

/** Makes a video and takes it in hand. */
export async function createVideo(services: Services, input: VideoInput): Promise<Video> {
  const row = await services.db.transaction().execute(async (trx) => {
    const made = await trx
      .insertInto('videos')
      .values({ title: input.title, uses_json: JSON.stringify(input.uses), created_at: nowIso() })
      .returningAll()
      .executeTakeFirstOrThrow()
    await setSetting(trx, 'video-in-hand', String(made.id))
    return made
  })
  return videoOfRow(services, row)
}

/** Changes title and uses; every verdict shown follows at once. @throws {ProblemError} not-found. */
export async function changeVideo(services: Services, id: number, input: VideoInput): Promise<Video> {
  const row = await services.db
    .updateTable('videos')
    .set({ title: input.title, uses_json: JSON.stringify(input.uses) })
    .where('id', '=', id)
    .returningAll()
    .executeTakeFirst()
  if (!row) throw notFound('This video')
  return videoOfRow(services, row)
}

async function videoOfRow(services: Services, row: VideoRow): Promise<Video> {
  const check = await services.db
    .selectFrom('checks')
    .selectAll()
    .where('video_id', '=', row.id)
    .orderBy('id', 'desc')
    .executeTakeFirst()
  const uses = usesOfRow(row)
  const findings =
    check?.state === 'done' ? await findingsOf(services, check.id, { uses, videoId: row.id, asOf: todayIso() }) : null
  return {
    id: row.id,
    title: row.title,
    uses,
    createdAt: row.created_at,
    check: check
      ? {
          id: check.id,
          state: check.state as NonNullable<Video['check']>['state'],
          openPoints:
            findings?.filter(({ verdict }) => verdict === 'no-papers' || verdict === 'not-allowed').length ?? null,
          credits: findings?.filter(({ verdict }) => verdict === 'owes-credit').length ?? null,
        }
      : null,
  }
}
