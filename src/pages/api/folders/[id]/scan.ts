import type { APIRoute } from 'astro'
import { endpoint } from '../../../../server/answer'
import { scanJob } from '../../../../server/folders/folders'

/** Looks through a folder once more. */
export const POST: APIRoute = endpoint(async (app, { params }) => ({
  jobId: await scanJob(app, params.id ?? ''),
  already: false,
}))
