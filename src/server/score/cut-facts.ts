import { CutSoundSchema } from '../../contract'
import type { TimeRange } from '../../core/time-range'
import type { Db } from '../database/db'
import { findMomentsRow } from '../rows/moments-rows'

/** What a mix needs of the cut of a video. */
export interface CutFacts {
  readonly lengthS: number
  /** Where somebody speaks in it. */
  readonly speech: readonly TimeRange[]
  /** Its own sound; null where it has none. */
  readonly sound: { readonly sha256: string; readonly durationS: number } | null
  /** Hash of its file, where that has a picture. */
  readonly pictureSha256: string | null
}

/** What a mix needs of the cut of a video; nothing of it where there is none. */
export async function cutFacts(db: Db, videoId: number): Promise<CutFacts> {
  const { cutId } = await findMomentsRow(db, videoId)
  const row = await db
    .selectFrom('cuts')
    .select(['sound_json', 'sha256', 'has_picture'])
    .where('video_id', '=', videoId)
    .$if(cutId !== null, (query) => query.where('id', '=', cutId as number))
    .where('state', '=', 'done')
    .where('removed_at', 'is', null)
    .orderBy('id', 'desc')
    .executeTakeFirst()
  const pictureSha256 = row?.has_picture === 1 ? row.sha256 : null
  if (!row?.sound_json) return { lengthS: 0, speech: [], sound: null, pictureSha256 }
  const { durationS, segments } = CutSoundSchema.parse(JSON.parse(row.sound_json))
  return {
    lengthS: durationS,
    speech: segments.filter(({ kind }) => kind === 'speech'),
    sound: { sha256: row.sha256, durationS },
    pictureSha256,
  }
}
