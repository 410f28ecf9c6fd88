import type { APIRoute } from 'astro'
import { BatchIds } from '../../../contract'
import { endpoint, findRequestContext, jsonBody } from '../../../server/answer'
import { planBatch } from '../../../server/orders/batches'

/** What acquiring several sounds would do and cost. */
export const POST: APIRoute = endpoint(async (app, { request }) => {
  const { soundIds } = await jsonBody(request, BatchIds)
  return planBatch(app, soundIds, await findRequestContext(app, request))
})
