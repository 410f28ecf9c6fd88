import type { APIRoute } from 'astro'
import { SoundQuery } from '../../../contract'
import { endpoint, findRequestContext } from '../../../server/answer'
import { searchSounds } from '../../../server/sounds/search-sounds'

export const GET: APIRoute = endpoint(async (app, { url, request }) => {
  const query = SoundQuery.parse(Object.fromEntries(url.searchParams))
  return searchSounds(app, query, await findRequestContext(app, request))
})
