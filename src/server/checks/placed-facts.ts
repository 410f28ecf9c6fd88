import type { CheckFacts, PlacedFacts } from '../../core/clearance'
import { isHeard, placementEndS, type Score } from '../../core/score'
import type { Db } from '../database/open'
import { findScoreRow } from '../rows/score-rows'

/** What is placed and would be heard, of sounds that are known. */
export function placedFacts({ placements, layers }: Score): PlacedFacts[] {
  return placements
    .filter((placement) => isHeard(placement, layers))
    .flatMap((placement): PlacedFacts[] => {
      const { audio, bed, startS } = placement
      if (audio.soundId === null) return []
      const audioSha256 = audio.kind === 'copy' ? audio.sha256 : null
      return [
        { soundId: audio.soundId, audioSha256, bedId: bed?.soundId ?? null, startS, endS: placementEndS(placement) },
      ]
    })
}

/** What was placed when a check was made by a version that did not write it down: known while nothing was changed since. Null where it is not, or nothing was. */
export async function findPlacedLater(
  db: Db,
  videoId: number,
  { placed, planRevision }: Pick<CheckFacts, 'placed' | 'planRevision'>,
): Promise<PlacedFacts[] | null> {
  if (placed !== undefined || planRevision == null) return null
  const { revision, document } = await findScoreRow(db, videoId)
  const known = revision === planRevision ? placedFacts(document) : []
  return known.length > 0 ? known : null
}

/** Writes down of which sounds a check knows that they were placed, for what is looked up by sound. */
export async function writePlaced(trx: Db, checkId: number, placed: readonly PlacedFacts[]): Promise<void> {
  await trx.deleteFrom('placed_in_checks').where('check_id', '=', checkId).execute()
  for (const sound_id of new Set(placed.map(({ soundId }) => soundId)))
    await trx.insertInto('placed_in_checks').values({ check_id: checkId, sound_id }).execute()
}
