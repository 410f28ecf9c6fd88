import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../server/answer'
import { forgetSearch, listSavedSearches } from '../../../server/finding/saved-searches'

export const DELETE: APIRoute = endpoint(async (app, { params }) => {
  await forgetSearch(app, idParam(params))
  return { searches: await listSavedSearches(app) }
})
