import fs from 'node:fs'
import path from 'node:path'
import { backup as messages } from '../../messages/server/backup'
import type { Services } from '../context'
import { DomainError } from '../domain-error'
import type { JobContext } from '../jobs/jobs'
import { backUp, requireOutside } from './backup'
import { BackupError } from './manifest'
import { loadBackupPlan, saveLastBackup } from './plan'

/** Makes a backup as the plan says. @returns It in one sentence. @throws {DomainError} nothing-to-do; {BackupError}. */
export async function backUpByPlan({ db, store }: Services, { signal, report }: JobContext): Promise<string> {
  const plan = await loadBackupPlan(db)
  if (!plan) throw new DomainError('nothing-to-do', messages.sayFirstIntoWhichFolder)
  const { folder, keepCount } = plan
  const summary = await backUp({ dataDir: store.dataDir, folder, keepCount, signal, report })
  await saveLastBackup(db, summary)
  return messages.filesAreSavedMbWere(summary.fileCount, Math.ceil(summary.newBytes / 1e6))
}

/** A folder that backups can go into. @throws {DomainError} no-folder. */
export async function requireBackupFolder({ store }: Pick<Services, 'store'>, folder: string): Promise<void> {
  if (!path.isAbsolute(folder)) throw new DomainError('no-folder', messages.writeWholePathFolderFrom)
  try {
    requireOutside(store.dataDir, folder)
    await fs.promises.mkdir(folder, { recursive: true })
    await fs.promises.access(folder, fs.constants.W_OK)
  } catch (cause) {
    const why = cause instanceof BackupError ? cause.message : messages.cannotBeWrittenNameAnother(folder)
    throw new DomainError('no-folder', why, { cause })
  }
}
