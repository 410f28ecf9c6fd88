import type { APIRoute } from 'astro'
import { z } from 'zod'
import { endpoint, idParam, jsonBody } from '../../../../server/answer'
import { takeBack } from '../../../../server/papers/declare'

/** Takes declared papers back, or puts them into force again. */
export const PATCH: APIRoute = endpoint(async (app, { params, request }) => {
  const grantId = idParam(params)
  const { takenBack } = await jsonBody(request, z.object({ takenBack: z.boolean() }))
  await takeBack(app.db, grantId, takenBack)
  return { grantId }
})
