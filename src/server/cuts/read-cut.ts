import fs from 'node:fs'
import { MessageChannel } from 'node:worker_threads'
import type { CutPicture, CutSound } from '../../contract'
import type { Peaks } from '../../core/audio'
import type { TrackBreakdown } from '../../core/hearing'
import { loudnessBytes, soundEvents } from '../../core/moments'
import { cuts as messages } from '../../messages/server/cuts'
import { decodeWatched, inspectWatched } from '../analysis/decode-watched'
import type { Services } from '../context'
import { notFound } from '../domain-error'
import { bytesOf } from '../files/bytes-of'
import type { JobContext } from '../jobs/jobs'
import { MediaError } from '../media/decoder'
import { runTask } from '../workers/pool'
import type { BreakdownTask, InspectTask, PictureLook, PictureTask, SketchTask } from '../workers/tasks'
import { runWatchedTask } from '../workers/watched-task'
import { carryOverTo } from './carry-over'
import type { CutRow } from './cut-rows'

/** Shares of the work, for progress. */
const SOUND_SHARE = 0.4
const PICTURE_SHARE = 0.55
/** A picture may take this long, ms: large ones are decoded slower than they play. */
const PICTURE_BUDGET_MS = 4 * 3_600_000

/**
 * Reads a rough cut: its sound track, its picture, and where the parts of the cut before it are in it.
 *
 * Safe to run again: a finished stage stays.
 */
export async function readCut(services: Services, cutId: number, context: JobContext): Promise<string> {
  const { db } = services
  const row = await db.selectFrom('cuts').selectAll().where('id', '=', cutId).executeTakeFirst()
  if (!row) throw notFound(messages.thisCut)
  // Read before: the moments come back to it after a newer one was removed.
  if (row.state === 'done') return carryOverTo(services, cutId, context.signal)
  await db.updateTable('cuts').set({ state: 'running', message: '' }).where('id', '=', cutId).execute()
  try {
    const hasSound = row.sound_json !== null || (await readSound(services, row, context))
    const hasPicture = row.picture_json !== null || (await readPictureOf(services, row, context))
    if (!hasSound && !hasPicture) throw new MediaError('not-media', messages.fileHasNeitherSoundTrack)
    context.report(SOUND_SHARE + PICTURE_SHARE, messages.lookingWhereMomentsAreNow)
    const carried = await carryOverTo(services, cutId, context.signal)
    await db.updateTable('cuts').set({ state: 'done', message: '' }).where('id', '=', cutId).execute()
    return carried
  } catch (error) {
    const isCancelled = context.signal.aborted
    await db
      .updateTable('cuts')
      .set({ state: isCancelled ? 'cancelled' : 'failed', message: isCancelled ? '' : services.explain(error) })
      .where('id', '=', cutId)
      .execute()
    throw error
  }
}

/** @returns False for a cut without sound. @throws {MediaError} when there is sound that cannot be decoded. */
async function readSound(services: Services, { id, sha256 }: CutRow, context: JobContext): Promise<boolean> {
  const { pool, store, db } = services
  const { signal, report } = context
  const path = store.blobPath(sha256)
  try {
    await inspectWatched(pool, path, signal)
  } catch (error) {
    // A picture alone is a cut too; whether there is one is seen next.
    if (error instanceof MediaError && (error.code === 'no-sound' || error.code === 'not-media')) return false
    throw error
  }
  const { track, voices } = await decodeWatched(pool, path, {
    trackIndex: 0,
    withPeaks: true,
    signal,
    onProgress: (fraction) => report(0.7 * SOUND_SHARE * fraction, messages.decodingTheSoundTrack),
  })
  report(0.7 * SOUND_SHARE, messages.tellingSpeechFromMusic)
  const speech = await voices
  const breakdown = await runTask<TrackBreakdown>(
    pool,
    'breakDownTrack',
    // Nothing is taken out: the rest is the track.
    { track: track.shared, detections: [], paths: [], rest: track.shared.mid, speech } satisfies BreakdownTask,
    { signal },
  )
  const sketchPath = store.temporaryPath('sketch')
  await runTask<boolean>(pool, 'sketchTrack', { track: track.shared, into: sketchPath } satisfies SketchTask, {
    signal,
  })
  const peaks = track.peaks as Peaks
  const peaksPath = store.temporaryPath('peaks')
  await fs.promises.writeFile(peaksPath, Buffer.concat(peaks.levels.map((level) => bytesOf(level))))
  const sketch = await store.commitTemporaryFile(sketchPath)
  const stored = await store.commitTemporaryFile(peaksPath)
  const sound: CutSound = {
    durationS: track.durationS,
    end: track.end,
    missing: [...track.missing],
    integratedLufs: track.integratedLufs,
    truePeakDbtp: track.truePeakDbtp,
    momentaryBase64: Buffer.from(loudnessBytes(track.momentaryLufs)).toString('base64'),
    segments: breakdown.segments.map(({ kind, startS, endS }) => ({ kind, startS, endS })),
    soundEventsS: soundEvents(track.momentaryLufs, breakdown.segments, breakdown.unexplained),
    peaks: {
      sampleRateHz: peaks.sampleRateHz,
      lengthFrames: peaks.lengthFrames,
      levels: peaks.levels.map((level) => level.length / 2),
    },
  }
  await db
    .updateTable('cuts')
    .set({ sound_json: JSON.stringify(sound), peaks_sha256: stored.sha256, sketch_sha256: sketch.sha256 })
    .where('id', '=', id)
    .execute()
  return true
}

/** @returns False for a cut without a picture that can be read. */
async function readPictureOf(services: Services, { id, sha256 }: CutRow, context: JobContext): Promise<boolean> {
  const { pool, store, db } = services
  const path = store.blobPath(sha256)
  const { hasPicture, canRead } = await runWatchedTask<PictureLook>(
    pool,
    'lookAtPicture',
    { path } satisfies InspectTask,
    {
      signal: context.signal,
    },
  )
  await db
    .updateTable('cuts')
    .set({ has_picture: hasPicture ? 1 : 0 })
    .where('id', '=', id)
    .execute()
  if (!hasPicture) return false
  // Without the program the browser reads it, once the page is open.
  if (!canRead) return true
  const into = store.temporaryPath('strip')
  const framesInto = store.temporaryPath('frames')
  const { port1, port2 } = new MessageChannel()
  port1.on('message', (fraction: number) =>
    context.report(SOUND_SHARE + PICTURE_SHARE * fraction, messages.lookingThroughThePicture),
  )
  try {
    const task: Omit<PictureTask, 'pulse'> = { path, into, framesInto, port: port2 }
    const picture = await runWatchedTask<CutPicture>(pool, 'readPicture', task, {
      signal: context.signal,
      baseBudgetMs: PICTURE_BUDGET_MS,
      transferList: [port2],
    })
    const strip = await store.commitTemporaryFile(into)
    const frames = picture.isVariable ? await store.commitTemporaryFile(framesInto) : null
    await db
      .updateTable('cuts')
      .set({ picture_json: JSON.stringify(picture), strip_sha256: strip.sha256, frames_sha256: frames?.sha256 ?? null })
      .where('id', '=', id)
      .execute()
  } catch (error) {
    if (context.signal.aborted || !(error instanceof MediaError)) throw error
    // The sound is worth having without it.
    await store.removeTemporary(into)
  } finally {
    port1.close()
  }
  return true
}
