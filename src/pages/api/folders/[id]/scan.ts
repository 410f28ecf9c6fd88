import type { APIRoute } from 'astro'
import { endpoint } from '../../../../server/answer'
import { enqueueScan } from '../../../../server/folders/folders'

/** Looks through a folder once more. */
export const POST: APIRoute = endpoint(async (app, { params }) => ({
  jobId: await enqueueScan(app, params.id ?? ''),
  already: false,
}))
