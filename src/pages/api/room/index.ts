import type { APIRoute } from 'astro'
import { endpoint } from '../../../server/answer'
import { measureRoom } from '../../../server/removal/room'

/** What takes how much room. */
export const GET: APIRoute = endpoint((app) => measureRoom(app))

/** Clears what nothing uses. */
export const POST: APIRoute = endpoint(async (app) => {
  const { job, already } = await app.jobs.enqueue('sweep', 'all', 'Clearing what nothing uses')
  return { jobId: job.id, already }
})
