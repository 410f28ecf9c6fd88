import type { MixOptions, WrittenMix } from '../../contract'
import { score as messages } from '../../messages/server/score'
import type { App } from '../context'
import { nowIso } from '../database/open'
import { DomainError, notFound } from '../domain-error'
import { findScoreRow } from '../rows/score-rows'
import { getVideoRow } from '../rows/video-rows'
import { loadMixes } from './mix-rows'

/**
 * Queues the writing of a mix of what is placed now. One of the same score, in the same files, that is still under way is not begun again.
 *
 * @throws {DomainError} not-found, nothing-to-do.
 */
export async function startMix(
  { db, jobs }: Pick<App, 'db' | 'jobs'>,
  videoId: number,
  { withStems, format, withVideo }: MixOptions,
): Promise<WrittenMix> {
  const { title } = await getVideoRow(db, videoId)
  const { revision, document } = await findScoreRow(db, videoId)
  if (document.placements.length === 0) throw new DomainError('nothing-to-do', messages.nothingPlacedYetPlaceSound)
  const open = await db
    .selectFrom('mixes')
    .select('id')
    .where('video_id', '=', videoId)
    .where('revision', '=', revision)
    .where('state', 'in', ['waiting', 'running'])
    .where('with_stems', '=', withStems ? 1 : 0)
    .where('with_video', '=', withVideo ? 1 : 0)
    .where('format', '=', format)
    .executeTakeFirst()
  const known = (await loadMixes(db, videoId)).find(({ id }) => id === open?.id)
  if (known) return known
  const { id } = await db
    .insertInto('mixes')
    .values({
      video_id: videoId,
      revision,
      document_json: JSON.stringify(document),
      with_stems: withStems ? 1 : 0,
      format,
      with_video: withVideo ? 1 : 0,
      state: 'waiting',
      created_at: nowIso(),
      result_json: null,
    })
    .returning('id')
    .executeTakeFirstOrThrow()
  await jobs.enqueue('mix', String(id), messages.writingTheMixOf(title))
  const made = (await loadMixes(db, videoId)).find((mix) => mix.id === id)
  if (!made) throw notFound(messages.thisMix)
  return made
}

/** Queues every mix whose writing is not over. Call at start. */
export async function enqueueOpenMixes({ db, jobs }: Pick<App, 'db' | 'jobs'>): Promise<void> {
  const open = await db
    .selectFrom('mixes')
    .innerJoin('videos', 'videos.id', 'mixes.video_id')
    .select(['mixes.id', 'videos.title'])
    .where('mixes.state', 'in', ['waiting', 'running'])
    .execute()
  for (const { id, title } of open) await jobs.enqueue('mix', String(id), messages.writingTheMixOf(title))
}
