import type { APIRoute } from 'astro'
import { CountQuery } from '../../../contract'
import { endpoint } from '../../../server/answer'
import { countSounds } from '../../../server/sounds/search-sounds'
import { findAsked } from '../../../server/videos/video-rows'

export const GET: APIRoute = endpoint(async (app, { url }) => {
  const query = CountQuery.parse(Object.fromEntries(url.searchParams))
  return countSounds(app, query, await findAsked(app.db))
})
