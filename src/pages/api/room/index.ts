import type { APIRoute } from 'astro'
import { requests as messages } from '../../../messages/server/requests'
import { endpoint } from '../../../server/answer'
import { measureRoom } from '../../../server/removal/room'

/** What takes how much room. */
export const GET: APIRoute = endpoint((app) => measureRoom(app))

/** Clears what nothing uses. */
export const POST: APIRoute = endpoint(async (app) => {
  const { job, already } = await app.jobs.enqueue('sweep', 'all', messages.clearingWhatNothingUses)
  return { jobId: job.id, already }
})
