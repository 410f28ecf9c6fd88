import type { APIRoute } from 'astro'
import { endpoint } from '../../../server/answer'

/** Verifies the ledger against tables and files. */
export const POST: APIRoute = endpoint(async (app) => {
  const { job, already } = await app.jobs.enqueue('verify', 'all', 'Verifying the ledger')
  return { jobId: job.id, already }
})
