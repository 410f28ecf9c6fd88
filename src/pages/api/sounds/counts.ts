import type { APIRoute } from 'astro'
import { CountQuery } from '../../../contract'
import { endpoint, findRequestContext } from '../../../server/answer'
import { countSounds } from '../../../server/sounds/search-sounds'

export const GET: APIRoute = endpoint(async (app, { url, request }) => {
  const query = CountQuery.parse(Object.fromEntries(url.searchParams))
  return countSounds(app, query, await findRequestContext(app, request))
})
