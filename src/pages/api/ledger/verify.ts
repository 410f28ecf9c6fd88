import type { APIRoute } from 'astro'
import { requests as messages } from '../../../messages/server/requests'
import { endpoint } from '../../../server/answer'

/** Verifies the ledger against tables and files. */
export const POST: APIRoute = endpoint(async (app) => {
  const { job, already } = await app.jobs.enqueue('verify', 'all', messages.verifyingTheLedger)
  return { jobId: job.id, already }
})
