import { BackupPlan, type BackupWire } from '../../contract'
import type { Db } from '../database/db'
import { findSetting, setSetting } from '../settings'
import { BackupSummary } from './manifest'

/** How backups are made by themselves; null while nobody said so. */
export async function loadBackupPlan(db: Db): Promise<BackupPlan | null> {
  const stored = await findSetting(db, 'backup-plan')
  return stored === null ? null : BackupPlan.parse(JSON.parse(stored))
}

export async function saveBackupPlan(db: Db, plan: BackupPlan | null): Promise<void> {
  await setSetting(db, 'backup-plan', plan === null ? null : JSON.stringify(plan))
}

/** The plan, and what the last backup came to. */
export async function loadBackups(db: Db): Promise<BackupWire> {
  const stored = await findSetting(db, 'last-backup')
  return { plan: await loadBackupPlan(db), last: stored === null ? null : BackupSummary.parse(JSON.parse(stored)) }
}

export async function saveLastBackup(db: Db, summary: BackupSummary): Promise<void> {
  await setSetting(db, 'last-backup', JSON.stringify(summary))
}
