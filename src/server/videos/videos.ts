import type { Video, VideoFiles, VideoInput } from '../../contract'
import { videos as messages } from '../../messages/server/videos'
import { loadVideoStates } from '../clearance/video-states'
import type { Services } from '../context'
import { isOneOf } from '../database/is-one-of'
import { type Db, nowIso } from '../database/open'
import { notFound } from '../domain-error'
import { getVideoRow, usesOfRow, type VideoRow } from '../rows/video-rows'
import { setSetting } from '../settings'

type Asking = Pick<Services, 'db'>

/** All videos with their states, the newest first. @param asOf Today, YYYY-MM-DD. */
export async function listVideos(services: Asking, asOf: string): Promise<Video[]> {
  const rows = await services.db
    .selectFrom('videos')
    .selectAll()
    .where('removed_at', 'is', null)
    .orderBy('id', 'desc')
    .execute()
  return loadVideos(services, rows, asOf)
}

/** @throws {DomainError} not-found. */
export async function getVideo(services: Asking, id: number, asOf: string): Promise<Video> {
  return loadVideo(services, await getVideoRow(services.db, id), asOf)
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
  return loadVideo(services, row, asOf)
}

/** Changes title and uses; every verdict shown follows at once. @throws {DomainError} not-found. */
export async function changeVideo(services: Asking, id: number, input: VideoInput, asOf: string): Promise<Video> {
  const row = await services.db
    .updateTable('videos')
    .set({ title: input.title, uses_json: JSON.stringify(input.uses) })
    .where('id', '=', id)
    .returningAll()
    .executeTakeFirst()
  if (!row) throw notFound(messages.thisVideo)
  return loadVideo(services, row, asOf)
}

async function loadVideo(services: Asking, row: VideoRow, asOf: string): Promise<Video> {
  const [video] = await loadVideos(services, [row], asOf)
  return video as Video
}

async function loadVideos(services: Asking, rows: readonly VideoRow[], asOf: string): Promise<Video[]> {
  const states = await loadVideoStates(services, rows, asOf)
  const checks = await loadNewestChecks(
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

/** Finished files of a video that were not removed, the newest first. @throws {DomainError} not-found. */
export async function listVideoFiles({ db }: Pick<Services, 'db'>, videoId: number): Promise<VideoFiles['files']> {
  await getVideoRow(db, videoId)
  const rows = await db
    .selectFrom('exports')
    .select(['id', 'file_name', 'size_bytes', 'created_at'])
    .where('video_id', '=', videoId)
    .where('removed_at', 'is', null)
    .orderBy('id', 'desc')
    .execute()
  return rows.map(({ id, file_name: fileName, size_bytes: sizeBytes, created_at: broughtAt }) => ({
    id,
    fileName,
    sizeBytes,
    broughtAt,
  }))
}

/** The check that the page of each video opens: of its newest file the one under way, else the newest that is done, else the newest. */
async function loadNewestChecks(
  db: Db,
  videoIds: readonly number[],
): Promise<Map<number, NonNullable<Video['check']>>> {
  const rows = await db
    .selectFrom('checks')
    .select(['id', 'video_id', 'state'])
    .where('removed_at', 'is', null)
    .where('export_id', 'in', (eb) =>
      eb
        .selectFrom('exports')
        .select((one) => one.fn.max('exports.id').as('id'))
        .where(isOneOf('exports.video_id', videoIds))
        .where('exports.removed_at', 'is', null)
        .groupBy('exports.video_id'),
    )
    .orderBy('id', 'desc')
    .execute()
  const rank = (state: string): number => (state === 'waiting' || state === 'running' ? 0 : state === 'done' ? 1 : 2)
  const chosen = new Map<number, (typeof rows)[number]>()
  for (const row of rows) {
    const known = chosen.get(row.video_id)
    if (!known || rank(row.state) < rank(known.state)) chosen.set(row.video_id, row)
  }
  return new Map(
    [...chosen].map(([videoId, { id, state }]) => [
      videoId,
      { id, state: state as NonNullable<Video['check']>['state'] },
    ]),
  )
}
