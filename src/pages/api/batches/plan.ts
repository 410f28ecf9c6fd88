import type { APIRoute } from 'astro'
import { BatchIds } from '../../../contract'
import { endpoint, jsonBody } from '../../../server/answer'
import { planBatch } from '../../../server/copies/batches'
import { findAsked } from '../../../server/videos/video-rows'

/** What acquiring several sounds would do and cost. */
export const POST: APIRoute = endpoint(async (app, { request }) => {
  const { soundIds } = await jsonBody(request, BatchIds)
  return planBatch(app, soundIds, await findAsked(app.db))
})
