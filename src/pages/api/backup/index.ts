import path from 'node:path'
import type { APIRoute } from 'astro'
import { z } from 'zod'
import { BackupPlan } from '../../../contract'
import { requests as messages } from '../../../messages/server/requests'
import { endpoint, jsonBody } from '../../../server/answer'
import { requireBackupFolder } from '../../../server/backup/backup-job'
import { loadBackups, saveBackupPlan } from '../../../server/backup/plan'

const PlanInput = z.object({ plan: BackupPlan.nullable() })

/** How backups are made, and what the last one came to. */
export const GET: APIRoute = endpoint(({ db }) => loadBackups(db))

/** Says into which folder backups go, how often, and how many are kept. */
export const PUT: APIRoute = endpoint(async (app, { request }) => {
  const { plan } = await jsonBody(request, PlanInput)
  if (plan) await requireBackupFolder(app, plan.folder)
  await saveBackupPlan(app.db, plan && { ...plan, folder: path.resolve(plan.folder) })
  return loadBackups(app.db)
})

/** Makes a backup now. */
export const POST: APIRoute = endpoint(async (app) => {
  const { job, already } = await app.jobs.enqueue('backup', 'all', messages.makingABackup)
  return { jobId: job.id, already }
})
