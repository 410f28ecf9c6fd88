import type { Selectable } from 'kysely'
import { UsesSchema, type UsesWire } from '../../contract'
import type { Db } from '../database/open'
import type { Schema } from '../database/schema'
import { notFound } from '../problem-error'
import { findSetting } from '../settings'
import type { Asked } from '../sounds/papers-of'

export type VideoRow = Selectable<Schema['videos']>

export function usesOfRow(row: Pick<VideoRow, 'uses_json'>): UsesWire {
  return UsesSchema.parse(JSON.parse(row.uses_json))
}

/** @throws {ProblemError} not-found. */
export async function getVideoRow(db: Db, id: number): Promise<VideoRow> {
  const row = await db.selectFrom('videos').selectAll().where('id', '=', id).executeTakeFirst()
  if (!row) throw notFound('This video')
  return row
}

/** The video in hand, or null while none is chosen. */
export async function findVideoInHand(db: Db): Promise<VideoRow | null> {
  const id = Number(await findSetting(db, 'video-in-hand'))
  if (!Number.isInteger(id) || id <= 0) return null
  return (await db.selectFrom('videos').selectAll().where('id', '=', id).executeTakeFirst()) ?? null
}

/** The uses of the video in hand, for weighing; null while none is in hand. */
export async function findAsked(db: Db): Promise<Asked | null> {
  const video = await findVideoInHand(db)
  return video ? { uses: usesOfRow(video), videoId: video.id } : null
}
