import { DoctorReport } from '../../contract'
import { doctor as messages } from '../../messages/server/doctor'
import { analyseInto } from '../analysis/listen-to-sounds'
import { loadBackupPlan } from '../backup/plan'
import type { App, Services } from '../context'
import type { JobContext } from '../jobs/jobs'
import { sweep } from '../removal/room'
import { findSetting, setSetting } from '../settings'
import { runTask } from '../workers/pool'
import type { HashTask } from '../workers/tasks'
import { examineFolder, UNUSED_MS } from './examine'
import { type Repaired, repairFolder } from './repair'

/** Examines the data folder, keeps the report, and takes away what nothing has used for a week. @returns It in one sentence. */
export async function examineAndClear(services: Services, { signal, report }: JobContext): Promise<string> {
  const { db, store, pool } = services
  const hashOf = (file: string): Promise<string> =>
    runTask<string>(pool, 'hashStoredFile', { path: file } satisfies HashTask, { signal })
  await sweep(services, { nowMs: Date.now(), graceMs: UNUSED_MS, signal })
  const found = await examineFolder({ db, store, hashOf, nowMs: Date.now(), signal, report })
  await setSetting(db, 'doctor-report', JSON.stringify(found))
  const count = found.damages.length
  return count === 0 ? messages.filesAreAsTheyWere(found.fileCount) : messages.thingsAreDamagedOrMissing(count)
}

export async function findDoctorReport(db: Services['db']): Promise<DoctorReport | null> {
  const stored = await findSetting(db, 'doctor-report')
  return stored === null ? null : DoctorReport.parse(JSON.parse(stored))
}

/** Repairs what the last examination found, as far as it is safe, and examines again. */
export async function repairFound(app: App): Promise<Repaired> {
  const { db, store, jobs } = app
  const report = await findDoctorReport(db)
  const plan = await loadBackupPlan(db)
  const repaired = await repairFolder(
    {
      db,
      store,
      enqueue: (kind, subject, title) => jobs.enqueue(kind, subject, title),
      backupFolder: plan?.folder ?? null,
    },
    report ?? { at: '', fileCount: 0, bytes: 0, damages: [], remaking: 0 },
  )
  await jobs.enqueue('doctor', 'all', messages.examiningTheFiles)
  return repaired
}

/** Makes again what hearing needs of a file that is here. */
export async function remakeFeatures(services: Services, sha256: string, signal: AbortSignal): Promise<string> {
  const rows = await services.db
    .selectFrom('analyses')
    .select(['sound_id', 'audio_mime'])
    .where('audio_sha256', '=', sha256)
    .execute()
  for (const { sound_id, audio_mime } of rows) await analyseInto(services, sound_id, sha256, audio_mime, signal)
  return rows.length === 0 ? messages.nothingUsesItAnyMore : messages.madeAgain
}
