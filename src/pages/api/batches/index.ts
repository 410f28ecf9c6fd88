import type { APIRoute } from 'astro'
import { BatchInput } from '../../../contract'
import { endpoint, jsonBody } from '../../../server/answer'
import { startBatch } from '../../../server/copies/batches'
import { findAsked } from '../../../server/videos/video-rows'

/** Acquires several sounds as one job. */
export const POST: APIRoute = endpoint(async (app, { request }) => {
  const { items } = await jsonBody(request, BatchInput)
  return startBatch(app, items, await findAsked(app.db))
})
