import type { APIRoute } from 'astro'
import { PausedInput } from '../../../../contract/library-account'
import { setPaused } from '../../../../server/accounts/connect-library'
import { endpoint, jsonBody } from '../../../../server/answer'

/** Leaves a library alone for a while, or asks it again. */
export const PUT: APIRoute = endpoint(async (app, { params, request }) => {
  const { paused } = await jsonBody(request, PausedInput)
  await setPaused(app, { id: params.id ?? '', paused })
  return { paused }
})
