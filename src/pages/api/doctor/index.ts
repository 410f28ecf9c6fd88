import type { APIRoute } from 'astro'
import { requests as messages } from '../../../messages/server/requests'
import { endpoint } from '../../../server/answer'
import { findDoctorReport } from '../../../server/doctor/doctor-job'

/** What the last examination came to. */
export const GET: APIRoute = endpoint(async ({ db }) => ({ report: await findDoctorReport(db) }))

/** Examines the stored files, the tables and the ledger. */
export const POST: APIRoute = endpoint(async (app) => {
  const { job, already } = await app.jobs.enqueue('doctor', 'all', messages.examiningTheFiles)
  return { jobId: job.id, already }
})
