import type { Video, VideoInput } from '../../contract'
import { videoStates } from '../clearance/video-states'
import type { Services } from '../context'
import { isOneOf } from '../database/is-one-of'
import { type Db, nowIso } from '../database/open'
import { notFound } from '../problem-error'
import { getVideoRow, usesOfRow, type VideoRow } from '../rows/video-rows'
import { setSetting } from '../settings'

type Asking = Pick<Services, 'db' | 'finder'>

/** All videos with their states, the newest first. @param asOf Today, YYYY-MM-DD. */
export async function listVideos(services: Asking, asOf: string): Promise<Video[]> {
  const rows = await services.db
    .selectFrom('videos')
    .selectAll()
    .where('removed_at', 'is', null)
    .orderBy('id', 'desc')
    .execute()
  return videosOfRows(services, rows, asOf)
}

/** @throws {ProblemError} not-found. */
export async function getVideo(services: Asking, id: number, asOf: string): Promise<Video> {
  return videoOfRow(services, await getVideoRow(services.db, id), asOf)
}

/** Makes a video and takes it in hand. */
export async function createVideo(services: Asking, input: VideoInput, asOf: string): Promise<Video> {
  const row = await services.db.transaction().execute(async (trx) => {
    const made = await trx
      .insertInto('videos')
      .values({ title: input.title, uses_json: JSON.stringify(input.uses), created_at: nowIso() })
      .returningAll()
      .executeTakeFirstOrThrow()
    await setSetting(trx, 'video-in-hand', String(made.id))
    return made
  })
  return videoOfRow(services, row, asOf)
}

/** Changes title and uses; every verdict shown follows at once. @throws {ProblemError} not-found. */
export async function changeVideo(services: Asking, id: number, input: VideoInput, asOf: string): Promise<Video> {
  const row = await services.db
    .updateTable('videos')
    .set({ title: input.title, uses_json: JSON.stringify(input.uses) })
    .where('id', '=', id)
    .returningAll()
    .executeTakeFirst()
  if (!row) throw notFound('This video')
  return videoOfRow(services, row, asOf)
}

async function videoOfRow(services: Asking, row: VideoRow, asOf: string): Promise<Video> {
  const [video] = await videosOfRows(services, [row], asOf)
  return video as Video
}

async function videosOfRows(services: Asking, rows: readonly VideoRow[], asOf: string): Promise<Video[]> {
  const states = await videoStates(services, rows, asOf)
  const checks = await newestChecks(
    services.db,
    rows.map(({ id }) => id),
  )
  return rows.map((row) => ({
    id: row.id,
    title: row.title,
    uses: usesOfRow(row),
    createdAt: row.created_at,
    state: states.get(row.id) ?? { kind: 'not-checked' },
    check: checks.get(row.id) ?? null,
  }))
}

async function newestChecks(db: Db, videoIds: readonly number[]): Promise<Map<number, NonNullable<Video['check']>>> {
  const rows = await db
    .selectFrom('checks')
    .select(['id', 'video_id', 'state'])
    .where('id', 'in', (eb) =>
      eb
        .selectFrom('checks as newest')
        .select((one) => one.fn.max('newest.id').as('id'))
        .where(isOneOf('newest.video_id', videoIds))
        .groupBy('newest.video_id'),
    )
    .execute()
  return new Map(
    rows.map(({ id, video_id, state }) => [video_id, { id, state: state as NonNullable<Video['check']>['state'] }]),
  )
}
