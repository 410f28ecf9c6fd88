import fs from 'node:fs'
import { SOUND_MIN_S } from '../../core/hearing'
import { nowIso } from '../database/open'
import type { JobContext } from '../jobs/jobs'
import { listen } from '../listening/listen'
import { notFound } from '../problem-error'
import type { Services } from '../services'

interface Listed {
  readonly id: number
  readonly title: string
  readonly featurePath: string | null
  readonly reason: string | null
}

/**
 * Listens to the exported file of a check for every sound of every library, and writes down what was heard.
 *
 * Safe to run again from the start: the result is written in one transaction at the end.
 */
export async function runCheck(services: Services, checkId: number, { signal, report }: JobContext): Promise<string> {
  const { db, store, pool } = services
  const check = await db
    .selectFrom('checks')
    .innerJoin('exports', 'exports.id', 'checks.export_id')
    .select(['checks.id', 'exports.sha256'])
    .where('checks.id', '=', checkId)
    .executeTakeFirst()
  if (!check) throw notFound('This check')
  await db.updateTable('checks').set({ state: 'running', message: 'Listening' }).where('id', '=', checkId).execute()
  try {
    const listed = await listedSounds(services)
    const audible = listed.filter((sound) => sound.featurePath !== null)
    const result = await listen(
      pool,
      store.blobPath(check.sha256),
      audible.map(({ featurePath }) => featurePath as string),
      { signal, onProgress: report },
    )
    const { track, detections } = result
    await db.transaction().execute(async (trx) => {
      await trx.deleteFrom('detections').where('check_id', '=', checkId).execute()
      for (const find of detections)
        await trx
          .insertInto('detections')
          .values({
            check_id: checkId,
            sound_id: (audible[find.soundIndex] as Listed).id,
            start_s: find.startS,
            end_s: find.endS,
            from_s: find.fromS,
            to_s: find.toS,
            gain_db: find.gainDb,
            confidence: find.confidence,
          })
          .execute()
      await trx
        .updateTable('checks')
        .set({
          state: 'done',
          message: '',
          finished_at: nowIso(),
          has_picture: track.hasPicture ? 1 : 0,
          duration_s: track.durationS,
          integrated_lufs: track.integratedLufs,
          true_peak_dbtp: track.truePeakDbtp,
          momentary: Buffer.from(
            track.momentaryLufs.buffer,
            track.momentaryLufs.byteOffset,
            track.momentaryLufs.byteLength,
          ),
          waveform: Buffer.from(track.waveform.buffer, track.waveform.byteOffset, track.waveform.byteLength),
          listened_for: audible.length,
          not_examined_json: JSON.stringify(
            listed
              .filter((sound) => sound.featurePath === null)
              .map(({ id, title, reason }) => ({ soundId: id, title, reason })),
          ),
        })
        .where('id', '=', checkId)
        .execute()
    })
    return `${detections.length} places heard, ${audible.length} sounds listened for`
  } catch (error) {
    const cancelled = signal.aborted
    await db
      .updateTable('checks')
      .set({ state: cancelled ? 'cancelled' : 'failed', message: cancelled ? '' : services.explain(error) })
      .where('id', '=', checkId)
      .execute()
    throw error
  }
}

/** Every sound of every library, with its feature file or the reason why it cannot be listened for. */
async function listedSounds(services: Services): Promise<Listed[]> {
  const rows = await services.db
    .selectFrom('sounds')
    .leftJoin('analyses', 'analyses.sound_id', 'sounds.id')
    .leftJoin('analysis_failures', 'analysis_failures.sound_id', 'sounds.id')
    .select(['sounds.id', 'sounds.title', 'analyses.audio_sha256', 'analysis_failures.reason', 'analyses.duration_s'])
    .orderBy('sounds.id')
    .execute()
  return rows.map((row) => {
    const featurePath = row.audio_sha256 ? services.store.featurePath(row.audio_sha256) : null
    const there = featurePath !== null && fs.existsSync(featurePath)
    const short = there && (row.duration_s ?? 0) < SOUND_MIN_S
    return {
      id: row.id,
      title: row.title,
      featurePath: there && !short ? featurePath : null,
      reason: short ? 'It is too short to be heard for sure.' : (row.reason ?? 'Its audio was never fetched.'),
    }
  })
}
