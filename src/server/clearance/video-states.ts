import { VideoStateWire } from '../../contract'
import { clearance, type VideoState } from '../../core/clearance'
import type { Services } from '../context'
import type { Db } from '../database/open'
import { findCurrentCheck } from '../rows/check-facts'
import { usesOfRow, type VideoRow } from '../rows/video-rows'
import { loadClearanceInput } from './clearance-input'
import { type Listed, loadListed } from './listed'

/**
 * The states of videos on a day. States that still hold are read; the others are decided and stored. What a state rests on takes it away
 * when it changes, so that none is shown for longer than it holds.
 *
 * @param asOf Today, YYYY-MM-DD.
 */
export async function loadVideoStates(
  services: Pick<Services, 'db'>,
  videos: readonly VideoRow[],
  asOf: string,
): Promise<Map<number, VideoState>> {
  const { db } = services
  const rows = await db.selectFrom('video_states').selectAll().where('day', '=', asOf).execute()
  const known = new Map(rows.map(({ video_id, state_json }) => [video_id, state_json]))
  const states = new Map<number, VideoState>()
  const listed = new ListedAt(db)
  for (const video of videos) {
    const text = known.get(video.id)
    if (text === undefined) {
      states.set(video.id, await decideState(services, video, { asOf, listed }))
      // Many may have to be decided at once: others are let in between.
      await new Promise((resolve) => setImmediate(resolve))
    } else states.set(video.id, VideoStateWire.parse(JSON.parse(text)))
  }
  return states
}

/** What is listed, read once for all videos that are decided while nothing changes. */
class ListedAt {
  private known: { readonly revision: number; readonly listed: Listed } | null = null

  constructor(private readonly db: Db) {}

  async of(revision: number): Promise<Listed> {
    if (this.known?.revision !== revision) this.known = { revision, listed: await loadListed(this.db) }
    return this.known.listed
  }
}

async function decideState(
  services: Pick<Services, 'db'>,
  video: VideoRow,
  { asOf, listed }: { readonly asOf: string; readonly listed: ListedAt },
): Promise<VideoState> {
  const { db } = services
  const revision = await getStateRevision(db)
  const asked = { id: video.id, uses: usesOfRow(video) }
  const { state } = clearance(await loadClearanceInput(services, asked, { asOf, listed: await listed.of(revision) }))
  await keepState(db, { videoId: video.id, asOf, state, revision })
  return state
}

async function getStateRevision(db: Db): Promise<number> {
  return (await db.selectFrom('state_revision').select('number').executeTakeFirstOrThrow()).number
}

/** Keeps a state, unless something that states rest on has changed since it was begun to be decided. */
async function keepState(
  db: Db,
  { videoId, asOf, state, revision }: { videoId: number; asOf: string; state: VideoState; revision: number },
): Promise<void> {
  const values = { video_id: videoId, day: asOf, state_json: JSON.stringify(state) }
  await db
    .insertInto('video_states')
    .columns(['video_id', 'day', 'state_json'])
    .expression((eb) =>
      eb
        .selectFrom('state_revision')
        .select([
          eb.val(values.video_id).as('video_id'),
          eb.val(values.day).as('day'),
          eb.val(values.state_json).as('state_json'),
        ])
        .where('number', '=', revision),
    )
    .onConflict((conflict) => conflict.column('video_id').doUpdateSet(values))
    .execute()
}

/** A video with its state, for reports. */
export interface VideoWithState {
  readonly id: number
  readonly title: string
  readonly state: VideoState
  /** The facts that it rests on; null while there are none. */
  readonly factsSha256: string | null
}

/** All videos with their states, decided anew: for a database that is only read. @param asOf Today, YYYY-MM-DD. */
export async function listVideosWithStates(db: Db, asOf: string): Promise<VideoWithState[]> {
  const videos = await db.selectFrom('videos').selectAll().where('removed_at', 'is', null).orderBy('id').execute()
  const decided: VideoWithState[] = []
  const listed = await loadListed(db)
  for (const video of videos) {
    const { state } = clearance(
      await loadClearanceInput({ db }, { id: video.id, uses: usesOfRow(video) }, { asOf, listed }),
    )
    const { factsSha256 } = await findCurrentCheck(db, video.id)
    decided.push({ id: video.id, title: video.title, state, factsSha256 })
  }
  return decided
}
