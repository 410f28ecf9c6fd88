import type { APIRoute } from 'astro'
import { CountQuery } from '../../../contract'
import { decisionContextOf, endpoint } from '../../../server/answer'
import { countSounds } from '../../../server/sounds/search-sounds'

export const GET: APIRoute = endpoint(async (app, { url, request }) => {
  const query = CountQuery.parse(Object.fromEntries(url.searchParams))
  return countSounds(app, query, await decisionContextOf(app, request))
})
