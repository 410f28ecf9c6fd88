import type { Selectable } from 'kysely'
import { UsesSchema, type UsesWire } from '../../contract'
import type { DecisionContext } from '../../core/rights'
import { rows as messages } from '../../messages/server/rows'
import type { Db } from '../database/open'
import type { Schema } from '../database/schema'
import { notFound } from '../domain-error'
import { findSetting } from '../settings'

export type VideoRow = Selectable<Schema['videos']>

export function usesOfRow(row: Pick<VideoRow, 'uses_json'>): UsesWire {
  return UsesSchema.parse(JSON.parse(row.uses_json))
}

/** @throws {DomainError} not-found. */
export async function getVideoRow(db: Db, id: number): Promise<VideoRow> {
  const row = await findVideoRow(db, id)
  if (!row) throw notFound(messages.thisVideo)
  return row
}

async function findVideoRow(db: Db, id: number): Promise<VideoRow | null> {
  return (
    (await db
      .selectFrom('videos')
      .selectAll()
      .where('id', '=', id)
      .where('removed_at', 'is', null)
      .executeTakeFirst()) ?? null
  )
}

/** The video in hand, or null while none is chosen. */
export async function findVideoInHand(db: Db): Promise<VideoRow | null> {
  const id = Number(await findSetting(db, 'video-in-hand'))
  if (!Number.isInteger(id) || id <= 0) return null
  return (
    (await db
      .selectFrom('videos')
      .selectAll()
      .where('id', '=', id)
      .where('removed_at', 'is', null)
      .executeTakeFirst()) ?? null
  )
}

/**
 * What decisions are made for: the video that a request names, else the one last taken in hand.
 *
 * @param named Id of a video, null for a request that says that none is in hand, undefined where it says nothing.
 * @param asOf Today, YYYY-MM-DD.
 * @returns Null while no video is in hand, or the named one is not there any more.
 */
export async function findDecisionContext(
  db: Db,
  { named, asOf }: { readonly named: number | null | undefined; readonly asOf: string },
): Promise<DecisionContext | null> {
  const video = named === undefined ? await findVideoInHand(db) : named === null ? null : await findVideoRow(db, named)
  return video ? { uses: usesOfRow(video), videoId: video.id, asOf } : null
}
