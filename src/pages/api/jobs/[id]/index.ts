import type { APIRoute } from 'astro'
import { requests as messages } from '../../../../messages/server/requests'
import { endpoint, idParam } from '../../../../server/answer'
import { notFound } from '../../../../server/domain-error'

export const GET: APIRoute = endpoint(async (app, { params }) => {
  const job = await app.jobs.find(idParam(params))
  if (!job) throw notFound(messages.thisJob)
  return job
})

/** Cancels the job; one that is over stays as it is. */
export const DELETE: APIRoute = endpoint(async (app, { params }) => {
  const id = idParam(params)
  await app.jobs.cancel(id)
  const job = await app.jobs.find(id)
  if (!job) throw notFound(messages.thisJob)
  return job
})
