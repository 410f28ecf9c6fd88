import type { APIRoute } from 'astro'
import { BatchInput } from '../../../contract'
import { endpoint, findRequestContext, jsonBody } from '../../../server/answer'
import { startBatch } from '../../../server/orders/batches'

/** Acquires several sounds as one job. */
export const POST: APIRoute = endpoint(async (app, { request }) => {
  const { items } = await jsonBody(request, BatchInput)
  return startBatch(app, items, await findRequestContext(app, request))
})
