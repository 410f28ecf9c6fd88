import type { APIRoute } from 'astro'
import { z } from 'zod'
import { endpoint, idParam, jsonBody } from '../../../server/answer'
import { undoAnswer } from '../../../server/clearance/answers'

const Change = z.object({ undone: z.boolean() })

/** Undoes an answer, or brings it back. */
export const PATCH: APIRoute = endpoint(async (app, { params, request }) => {
  const { undone } = await jsonBody(request, Change)
  await undoAnswer(app, idParam(params), undone)
  return { undone }
})
