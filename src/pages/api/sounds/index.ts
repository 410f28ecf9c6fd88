import type { APIRoute } from 'astro'
import { SoundQuery } from '../../../contract'
import { endpoint } from '../../../server/answer'
import { searchSounds } from '../../../server/sounds/search-sounds'
import { findAsked } from '../../../server/videos/video-rows'

export const GET: APIRoute = endpoint(async (app, { url }) => {
  const query = SoundQuery.parse(Object.fromEntries(url.searchParams))
  return searchSounds(app, query, await findAsked(app.db))
})
