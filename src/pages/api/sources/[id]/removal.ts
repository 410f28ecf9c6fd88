import type { APIRoute } from 'astro'
import { RemovalInput } from '../../../../contract'
import { endpoint, jsonBody } from '../../../../server/answer'
import { setSourceRemoved } from '../../../../server/removal/remove-source'

/** Removes a folder, or disconnects a library; or brings it back. */
export const PUT: APIRoute = endpoint(async (app, { params, request }) => {
  const { removed } = await jsonBody(request, RemovalInput)
  await setSourceRemoved(app, { id: params.id ?? '', removed })
  return { removed }
})
