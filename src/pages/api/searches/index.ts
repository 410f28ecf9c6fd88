import type { APIRoute } from 'astro'
import { SavedSearchInput } from '../../../contract'
import { endpoint, jsonBody } from '../../../server/answer'
import { listSavedSearches, saveSearch } from '../../../server/finding/saved-searches'

export const GET: APIRoute = endpoint(async (app) => ({ searches: await listSavedSearches(app) }))

/** Saves a search; one of the same name is replaced. */
export const POST: APIRoute = endpoint(async (app, { request }) => {
  await saveSearch(app, await jsonBody(request, SavedSearchInput))
  return { searches: await listSavedSearches(app) }
})
