import type { APIRoute } from 'astro'
import { RemovalInput } from '../../../../contract'
import { endpoint, idParam, jsonBody } from '../../../../server/answer'
import { setRemoved } from '../../../../server/removal/remove'

/** Removes a version of a cut, or brings it back. */
export const PUT: APIRoute = endpoint(async (app, { params, request }) => {
  const { removed } = await jsonBody(request, RemovalInput)
  await setRemoved(app, 'cuts', { id: idParam(params), removed })
  return { removed }
})
