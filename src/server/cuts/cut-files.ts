import fs from 'node:fs'
import type { Readable } from 'node:stream'
import { sql } from 'kysely'
import { type CutPicture, CutPictureSchema, CutSoundSchema } from '../../contract'
import type { TimeRange } from '../../core/time-range'
import { cuts as messages } from '../../messages/server/cuts'
import type { Services } from '../context'
import type { Db } from '../database/open'
import { DomainError, notFound } from '../domain-error'
import { TooLargeError } from '../files/store'
import { getCutFile } from '../rows/stored-files'
import type { SamplesTask } from '../workers/tasks'
import { runWatchedTask } from '../workers/watched-task'
import { type CutRow, getCutRow } from './cut-rows'

/** More samples than these are not drawn one by one, s. */
const SAMPLES_MAX_S = 4

/**
 * One thing of what was read of a cut, taken out by the database: what was read is long, and is asked for piece by piece.
 *
 * @param path Of JSON in SQLite. @returns Null where the cut has it not. @throws {DomainError} not-found.
 */
async function readOf(
  db: Db,
  cutId: number,
  column: 'sound_json' | 'picture_json',
  path: string,
): Promise<{ readonly file: string | null; readonly json: unknown }> {
  const file = column === 'sound_json' ? 'peaks_sha256' : 'strip_sha256'
  const { rows } = await sql<{ file: string | null; json: string | null }>`
    SELECT ${sql.ref(file)} AS file, ${sql.ref(column)} -> ${path} AS json FROM cuts WHERE id = ${cutId}`.execute(db)
  const [row] = rows
  if (!row) throw notFound(messages.thisCut)
  return { file: row.file, json: row.json === null ? null : JSON.parse(row.json) }
}

/**
 * A piece of one level of the peaks of a cut.
 *
 * @throws {DomainError} not-found for a cut without sound or a level that it has not; range behind its end.
 */
export async function readPeaks(
  { db, store }: Pick<Services, 'db' | 'store'>,
  cutId: number,
  { level, from, count }: { readonly level: number; readonly from: number; readonly count: number },
): Promise<Uint8Array<ArrayBuffer>> {
  const { file, json } = await readOf(db, cutId, 'sound_json', '$.peaks.levels')
  if (json === null || file === null) throw notFound(messages.theWaveformOfThisCut)
  const levels = CutSoundSchema.shape.peaks.shape.levels.parse(json)
  const pairs = levels[level]
  if (pairs === undefined) throw notFound(messages.thisLevel)
  if (from >= pairs) throw new DomainError('range', messages.levelHasPairsPartAsked(pairs))
  const before = levels.slice(0, level).reduce((sum, one) => sum + one, 0)
  return readBytes(store.blobPath(file), 2 * (before + from), 2 * Math.min(count, pairs - from))
}

async function readBytes(path: string, offset: number, length: number): Promise<Uint8Array<ArrayBuffer>> {
  const file = await fs.promises.open(path, 'r').catch(() => null)
  if (!file) throw notFound(messages.whatWasReadThisCut)
  try {
    const bytes = new Uint8Array(length)
    const { bytesRead } = await file.read(bytes, 0, length, offset)
    return bytes.slice(0, bytesRead)
  } finally {
    await file.close()
  }
}

/** Samples of a short range of a cut. @throws {DomainError} not-found, bad-range; {MediaError}. */
export async function readCutSamples(
  { db, store, interactivePool }: Pick<Services, 'db' | 'store' | 'interactivePool'>,
  cutId: number,
  range: TimeRange,
  signal: AbortSignal,
): Promise<{ samples: Float32Array; rateHz: number }> {
  const { json: soundS } = await readOf(db, cutId, 'sound_json', '$.durationS')
  if (soundS === null) throw notFound(messages.theSoundOfThisCut)
  const { json: pictureS } = await readOf(db, cutId, 'picture_json', '$.durationS')
  const { sha256 } = await getCutFile(db, cutId)
  if (range.endS - range.startS > SAMPLES_MAX_S || range.startS > Math.max(Number(soundS), Number(pictureS ?? 0)))
    throw new DomainError('bad-range', messages.samplesAreGivenForAt(SAMPLES_MAX_S))
  const task: Omit<SamplesTask, 'pulse'> = { path: store.blobPath(sha256), range }
  return runWatchedTask(interactivePool, 'cutSamples', task, { signal })
}

/** @throws {DomainError} not-found where the frames come evenly. */
export async function getFrameTimesFile(db: Db, cutId: number): Promise<string> {
  const { frames_sha256 } = await getCutRow(db, cutId)
  if (frames_sha256 === null) throw notFound(messages.aListOfFrames)
  return frames_sha256
}

/** One small picture, as JPEG. @throws {DomainError} not-found. */
export async function readStripPicture(
  { db, store }: Pick<Services, 'db' | 'store'>,
  cutId: number,
  at: number,
): Promise<Uint8Array<ArrayBuffer>> {
  const { file, json } = await readOf(db, cutId, 'picture_json', `$.strip[${at}]`)
  if (json === null || file === null) throw notFound(messages.thisPicture)
  const { offset, bytes } = CutPictureSchema.shape.strip.element.parse(json)
  return readBytes(store.blobPath(file), offset, bytes)
}

/** Of the small pictures of a cut the one that stands for it lies so far in, as a share: titles and black are behind. */
const STANDS_FOR_IT = 1 / 3

/** A small picture that stands for a video, from its newest cut, as JPEG. @throws {DomainError} not-found. */
export async function readVideoPicture(
  services: Pick<Services, 'db' | 'store'>,
  videoId: number,
): Promise<Uint8Array<ArrayBuffer>> {
  const cut = await services.db
    .selectFrom('cuts')
    .select(['id', sql<number>`json_array_length(picture_json, '$.strip')`.as('count')])
    .where('video_id', '=', videoId)
    .where('state', '=', 'done')
    .where('removed_at', 'is', null)
    .where('strip_sha256', 'is not', null)
    .orderBy('id', 'desc')
    .limit(1)
    .executeTakeFirst()
  if (!cut) throw notFound(messages.aPictureOfThisVideo)
  return readStripPicture(services, cut.id, Math.floor(cut.count * STANDS_FOR_IT))
}

/** What a browser hands over of a cut as a file of its own. */
const HANDED_OVER = {
  strip_sha256: { maxBytes: 64 * 1024 * 1024, tooLarge: messages.smallPicturesTakeMoreThan },
  frames_sha256: { maxBytes: 16 * 1024 * 1024, tooLarge: messages.timesFramesTakeMoreThan },
} as const

type Handed = (
  services: Pick<Services, 'db' | 'store'>,
  cutId: number,
  body: Readable,
  signal: AbortSignal,
) => Promise<{ sizeBytes: number }>

function taking(column: keyof typeof HANDED_OVER): Handed {
  const { maxBytes, tooLarge } = HANDED_OVER[column]
  return async ({ db, store }, cutId, body, signal) => {
    await requireWanted(db, cutId)
    const { sha256, sizeBytes } = await store.storeStream(body, { maxBytes, signal }).catch((cause) => {
      throw cause instanceof TooLargeError ? new DomainError('too-large', tooLarge, { cause }) : cause
    })
    await db
      .updateTable('cuts')
      .set({ [column]: sha256 })
      .where('id', '=', cutId)
      .execute()
    return { sizeBytes }
  }
}

/** Takes the strip that a browser made. @throws {DomainError} not-found, already, too-large. */
export const takeStrip = taking('strip_sha256')

/** Takes the times of uneven frames that a browser saw: 32-bit numbers of 0.1 ms. @throws {DomainError} not-found, already, too-large. */
export const takeFrameTimes = taking('frames_sha256')

/** Takes what a browser saw in a picture. @throws {DomainError} not-found, already, bad-range when a small picture lies outside of the strip or times of frames are missing. */
export async function takePicture(
  { db, store }: Pick<Services, 'db' | 'store'>,
  cutId: number,
  picture: CutPicture,
): Promise<void> {
  const { strip_sha256, frames_sha256 } = await requireWanted(db, cutId)
  const sizeOf = async (sha256: string | null): Promise<number> =>
    sha256 === null ? 0 : (await fs.promises.stat(store.blobPath(sha256))).size
  const stripBytes = await sizeOf(strip_sha256)
  if (picture.strip.some(({ offset, bytes }) => offset + bytes > stripBytes))
    throw new DomainError('bad-range', messages.smallPictureLiesOutsideThose)
  if (picture.isVariable && (await sizeOf(frames_sha256)) !== picture.frameCount * Uint32Array.BYTES_PER_ELEMENT)
    throw new DomainError('bad-range', messages.thereHaveBeAsMany)
  await db
    .updateTable('cuts')
    .set({ picture_json: JSON.stringify(picture), ...(picture.isVariable ? {} : { frames_sha256: null }) })
    .where('id', '=', cutId)
    .execute()
}

async function requireWanted(db: Db, cutId: number): Promise<CutRow> {
  const row = await getCutRow(db, cutId)
  if (row.picture_json !== null || row.has_picture === 0)
    throw new DomainError('already', messages.pictureThisCutWasRead)
  return row
}
