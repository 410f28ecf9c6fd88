import { createHash } from 'node:crypto'
import fs from 'node:fs'
import { COMPACT_VERSION, type Detection, FEATURES_VERSION, SOUND_MIN_S } from '../../core/hearing'
import { listen, type StageResult } from '../analysis/listen'
import type { Listed } from '../analysis/stages'
import type { Services } from '../context'
import { type Db, nowIso } from '../database/open'
import type { JobContext } from '../jobs/jobs'
import { appendToLedger } from '../ledger/ledger'
import { notFound } from '../problem-error'

interface ListedSound {
  readonly id: number
  readonly title: string
  readonly featurePath: string | null
  readonly reason: string | null
  /** There are papers for it: it is likely to be in the video. */
  readonly acquired: boolean
  readonly groupId: number | null
}

/**
 * Listens to the exported file of a check for every sound of every library, and writes down what was heard.
 *
 * Safe to run again: each finished stage is kept until the check is over, and each result is written in one transaction.
 */
export async function runCheck(services: Services, checkId: number, { signal, report }: JobContext): Promise<string> {
  const { db, store, pool } = services
  const check = await db
    .selectFrom('checks')
    .innerJoin('exports', 'exports.id', 'checks.export_id')
    .select(['checks.id', 'checks.export_id', 'exports.sha256'])
    .where('checks.id', '=', checkId)
    .executeTakeFirst()
  if (!check) throw notFound('This check')
  await db.updateTable('checks').set({ state: 'running', message: 'Listening' }).where('id', '=', checkId).execute()
  try {
    const listed = await listedSounds(services)
    const audible = listed.filter((sound) => sound.featurePath !== null)
    const result = await listen(pool, store.blobPath(check.sha256), listedOf(audible), {
      signal,
      keep: true,
      onProgress: report,
      stages: keptStages(db, checkId, audible),
      onHeard: (heard) => db.transaction().execute((trx) => writeDetections(trx, checkId, heard, audible)),
    })
    const { track, detections } = result
    const unreadable = new Map(result.unreadable.map(({ index, reason }) => [audible[index]?.id, reason]))
    await db.transaction().execute(async (trx) => {
      await writeDetections(trx, checkId, detections, audible)
      await trx.deleteFrom('check_stages').where('check_id', '=', checkId).execute()
      const kept = { export_id: check.export_id, version: COMPACT_VERSION, bytes: Buffer.from(result.compact ?? []) }
      await trx
        .insertInto('kept_tracks')
        .values(kept)
        .onConflict((conflict) => conflict.column('export_id').doUpdateSet(kept))
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
          loudness_range_lu: track.loudnessRangeLu,
          short_term_max_lufs: track.shortTermMaxLufs,
          account_json: JSON.stringify(result.account),
          sensitivity_json: JSON.stringify(
            result.sensitivity.map(({ index, fromDb }) => [(audible[index] as ListedSound).id, fromDb]),
          ),
          decoy_count: result.decoyCount,
          decoy_finds: result.decoyFinds,
          listened_for: audible.length - unreadable.size,
          not_examined_json: JSON.stringify(
            listed
              .filter((sound) => sound.featurePath === null || unreadable.has(sound.id))
              .map(({ id, title, reason }) => ({ soundId: id, title, reason: unreadable.get(id) ?? reason })),
          ),
        })
        .where('id', '=', checkId)
        .execute()
      await appendToLedger(trx, 'checked', {
        checkId,
        fileSha256: check.sha256,
        soundsListenedFor: audible.length - unreadable.size,
        placesHeard: detections.length,
        accountedShare: result.account.accountedShare,
      })
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

function listedOf(audible: readonly ListedSound[]): Listed {
  const groups = new Map<number, number[]>()
  audible.forEach(({ groupId }, index) => {
    if (groupId !== null) groups.set(groupId, [...(groups.get(groupId) ?? []), index])
  })
  return {
    featurePaths: audible.map(({ featurePath }) => featurePath as string),
    shortlist: audible.flatMap(({ acquired }, index) => (acquired ? [index] : [])),
    groups: [...groups.values()].filter((group) => group.length > 1),
  }
}

/** Finished stages in the database. They speak of sounds by their place in the list, so they hold for that list alone. */
function keptStages(db: Db, checkId: number, audible: readonly ListedSound[]) {
  const list = audible.map(({ id, acquired }) => `${id}${acquired ? '+' : ''}`).join(' ')
  const prefix = createHash('sha256').update(`${FEATURES_VERSION} ${list}`).digest('hex').slice(0, 16)
  return {
    load: async (key: string): Promise<StageResult | null> => {
      const row = await db
        .selectFrom('check_stages')
        .select('result_json')
        .where('check_id', '=', checkId)
        .where('key', '=', `${prefix} ${key}`)
        .executeTakeFirst()
      return row ? (JSON.parse(row.result_json) as StageResult) : null
    },
    save: async (key: string, result: StageResult): Promise<void> => {
      const values = { check_id: checkId, key: `${prefix} ${key}`, result_json: JSON.stringify(result) }
      await db
        .insertInto('check_stages')
        .values(values)
        .onConflict((conflict) => conflict.doNothing())
        .execute()
    },
  }
}

async function writeDetections(
  trx: Db,
  checkId: number,
  detections: readonly Detection[],
  audible: readonly ListedSound[],
): Promise<void> {
  const idOf = (index: number): number => (audible[index] as ListedSound).id
  await trx.deleteFrom('detections').where('check_id', '=', checkId).execute()
  for (const find of detections)
    await trx
      .insertInto('detections')
      .values({
        check_id: checkId,
        sound_id: idOf(find.soundIndex),
        start_s: find.startS,
        end_s: find.endS,
        from_s: find.fromS,
        to_s: find.toS,
        gain_db: find.gainDb,
        confidence: find.confidence,
        speed: find.speed,
        treatment: find.treatment,
        cutoff_hz: find.cutoffHz,
        balance: find.balance,
        fade_in_s: find.fadeInS,
        fade_out_s: find.fadeOutS,
        alternatives_json: JSON.stringify(find.alternatives.map(idOf)),
      })
      .execute()
}

/** Every sound of every library, with its feature file or the reason why it cannot be listened for. */
async function listedSounds(services: Services): Promise<ListedSound[]> {
  const rows = await services.db
    .selectFrom('sounds')
    .leftJoin('analyses', 'analyses.sound_id', 'sounds.id')
    .leftJoin('analysis_failures', 'analysis_failures.sound_id', 'sounds.id')
    .leftJoin('recording_groups', 'recording_groups.sound_id', 'sounds.id')
    .select(['sounds.id', 'sounds.title', 'analyses.audio_sha256', 'analysis_failures.reason', 'analyses.duration_s'])
    .select(['analyses.feature_version', 'recording_groups.group_id'])
    .select((eb) =>
      eb
        .exists(eb.selectFrom('grants').select('grants.id').whereRef('grants.sound_id', '=', 'sounds.id'))
        .as('acquired'),
    )
    .orderBy('sounds.id')
    .execute()
  return rows.map((row) => {
    const featurePath = row.audio_sha256 ? services.store.featurePath(row.audio_sha256) : null
    const outdated = row.feature_version !== null && row.feature_version !== FEATURES_VERSION
    const there = featurePath !== null && !outdated && fs.existsSync(featurePath)
    const short = there && (row.duration_s ?? 0) < SOUND_MIN_S
    return {
      id: row.id,
      title: row.title,
      featurePath: there && !short ? featurePath : null,
      reason: short ? 'It is too short to be heard for sure.' : outdated ? OUTDATED : (row.reason ?? NEVER_FETCHED),
      acquired: row.acquired === 1 || row.acquired === true,
      groupId: row.group_id,
    }
  })
}

const OUTDATED = 'It was listened to by an older version. Sync its library to have it listened to again.'
const NEVER_FETCHED = 'Its audio was never fetched.'
