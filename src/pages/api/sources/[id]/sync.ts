import type { APIRoute } from 'astro'
import { requests as messages } from '../../../../messages/server/requests'
import { endpoint } from '../../../../server/answer'

/** Connects a source or brings its mirror up to date. */
export const POST: APIRoute = endpoint(async (app, { params }) => {
  const connector = app.connector(params.id ?? '')
  const { job, already } = await app.jobs.enqueue('mirror', connector.id, messages.synchronising(connector.name))
  return { jobId: job.id, already }
})
