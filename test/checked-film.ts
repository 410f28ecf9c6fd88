import type { CheckDetail } from '../src/contract'
import { getCheckDetail } from '../src/server/clearance/check-detail'
import { todayIso } from '../src/server/database/open'
import { bringExport, download, finishedTrack, makeVideo, mirrorAll, openWorld, type World } from './world'

/** Sounds of both libraries in a film of 18 s, at [id, second, gain in dB]. */
const PLACED = [
  ['b1', 2, -8],
  ['h1', 5, -9],
  ['b2', 8, -8],
  ['b3', 11, -8],
  ['b1', 14, -10],
] as const

/** A world in which a film was checked. All its sounds have papers but “Dull thud”. */
export interface CheckedFilm {
  readonly world: World
  readonly videoId: number
  readonly detail: CheckDetail
}

export async function openCheckedFilm(name: string): Promise<CheckedFilm> {
  const world = await openWorld(name)
  await mirrorAll(world)
  for (const title of ['Ice crack', 'Servo number 1', 'Radio hum']) await download(world.app, title)
  const videoId = await makeVideo(world.app)
  const { checkId } = await bringExport(world.app, videoId, finishedTrack(18, PLACED))
  return { world, videoId, detail: await getCheckDetail(world.app, checkId, todayIso()) }
}
