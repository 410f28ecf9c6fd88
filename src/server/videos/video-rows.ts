import type { Selectable } from 'kysely'
import { UsesSchema } from '../../contract'
import type { Uses } from '../../core/rights'
import type { Db } from '../database/open'
import type { Schema } from '../database/schema'
import { notFound } from '../problem-error'
import { findSetting } from '../settings'

export type VideoRow = Selectable<Schema['videos']>

export function usesOfRow(row: Pick<VideoRow, 'uses_json'>): Uses {
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
