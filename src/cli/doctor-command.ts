import { parseArgs } from 'node:util'
import { commands as messages } from '../messages/server/commands'
import { loadBackupPlan } from '../server/backup/plan'
import { examineFolder } from '../server/doctor/examine'
import { repairedInWords, repairFolder } from '../server/doctor/repair'
import { hashFile } from '../server/files/hash-file'
import { FileStore } from '../server/files/store'
import { insertQueued } from '../server/jobs/jobs'
import { dataFolder, withData } from './data-folder'
import { EXIT, UsageError } from './exit'

/**
 * `thud doctor`: examines every stored file, the tables and the ledger, and names each damage with what repairs it; with `--repair` it repairs
 * what is safe, and queues what the application fetches or reads again when it runs.
 *
 * @returns 0 where all is whole, 1 where something is damaged. @throws {UsageError}
 */
export async function doctorCommand(args: readonly string[]): Promise<number> {
  const { dataDir, repair } = parsed(args)
  return withData(dataDir, async (db) => {
    const store = new FileStore(dataDir)
    const report = await examineFolder({ db, store, hashOf: hashFile, nowMs: Date.now() })
    for (const { sentence, repair: way } of report.damages)
      console.error(way === 'none' ? sentence : `${sentence} (${way})`)
    console.log(`${report.fileCount} files, ${Math.ceil(report.bytes / 1e6)} MB: ${report.damages.length} damages.`)
    if (report.remaking > 0) console.log(messages.whatHearingNeedsSoundsQueued(report.remaking))
    if (!repair) return report.damages.length === 0 ? EXIT.done : EXIT.badInput
    const backupFolder = (await loadBackupPlan(db))?.folder ?? null
    const repaired = await repairFolder(
      {
        db,
        store,
        enqueue: (kind, subject, title) => insertQueued(db, { kind, subject, title }),
        backupFolder,
      },
      report,
    )
    console.log(repairedInWords(repaired))
    if (repaired.underWay > 0) console.log(messages.startGoodThudWhatFetched)
    return repaired.left.length === 0 ? EXIT.done : EXIT.badInput
  })
}

function parsed(args: readonly string[]): { dataDir: string; repair: boolean } {
  try {
    const { values, positionals } = parseArgs({
      args: [...args],
      allowPositionals: true,
      options: { data: { type: 'string' }, repair: { type: 'boolean', default: false } },
    })
    if (positionals.length > 0) throw new UsageError(messages.thudDoctorTakesNoName)
    return { dataDir: dataFolder(values.data), repair: values.repair }
  } catch (error) {
    throw error instanceof UsageError ? error : new UsageError((error as Error).message)
  }
}
