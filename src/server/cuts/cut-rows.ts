import type { Selectable } from 'kysely'
import { CarriedWire, type Cut, CutPictureSchema, CutSoundSchema, type CutVersion } from '../../contract'
import { cuts as messages } from '../../messages/server/cuts'
import type { Db } from '../database/open'
import type { Schema } from '../database/schema'
import { notFound } from '../domain-error'

export type CutRow = Selectable<Schema['cuts']>

/** A version of a cut without what was read of it, which is long. */
type CutVersionRow = Omit<CutRow, 'sound_json' | 'picture_json' | 'carried_json'>

/** @throws {DomainError} not-found. */
export async function getCutRow(db: Db, id: number): Promise<CutRow> {
  const row = await db.selectFrom('cuts').selectAll().where('id', '=', id).executeTakeFirst()
  if (!row) throw notFound(messages.thisCut)
  return row
}

/** Versions of the cut of a video that were not removed, the newest first. */
export async function loadCutVersions(db: Db, videoId: number): Promise<CutVersionRow[]> {
  return db
    .selectFrom('cuts')
    .select(['id', 'video_id', 'sha256', 'size_bytes', 'file_name', 'mime', 'created_at', 'removed_at', 'state'])
    .select(['message', 'has_picture', 'peaks_sha256', 'sketch_sha256', 'strip_sha256', 'frames_sha256'])
    .where('video_id', '=', videoId)
    .where('removed_at', 'is', null)
    .orderBy('id', 'desc')
    .execute()
}

/** Open jobs of cuts, by cut. */
export async function loadCutJobs(db: Db): Promise<Map<number, number>> {
  const rows = await db
    .selectFrom('jobs')
    .select(['id', 'subject'])
    .where('kind', '=', 'cut')
    .where('state', 'in', ['queued', 'running'])
    .execute()
  return new Map(rows.map(({ id, subject }) => [Number(subject), id]))
}

export function cutVersionOf(row: CutVersionRow, jobs: ReadonlyMap<number, number>): CutVersion {
  return {
    id: row.id,
    fileName: row.file_name,
    sizeBytes: row.size_bytes,
    mime: row.mime,
    broughtAt: row.created_at,
    state: row.state as CutVersion['state'],
    message: row.message,
    jobId: jobs.get(row.id) ?? null,
  }
}

export function cutOf(row: CutRow, jobs: ReadonlyMap<number, number>): Cut {
  const parsed = <T>(json: string | null, parse: (value: unknown) => T): T | null =>
    json === null ? null : parse(JSON.parse(json))
  const picture = parsed(row.picture_json, (value) => CutPictureSchema.parse(value))
  return {
    ...cutVersionOf(row, jobs),
    sound: parsed(row.sound_json, (value) => CutSoundSchema.parse(value)),
    picture,
    wantsPicture: row.has_picture === 1 && picture === null && row.state === 'done',
    carried: parsed(row.carried_json, (value) => CarriedWire.parse(value)),
  }
}
