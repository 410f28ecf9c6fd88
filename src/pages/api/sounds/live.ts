import type { APIRoute } from 'astro'
import { LiveAsk } from '../../../contract'
import { endpoint, findRequestContext } from '../../../server/answer'
import { loadSummaries } from '../../../server/sounds/search-sounds'

/** Searches one library that is not mirrored, and gives what it has. */
export const GET: APIRoute = endpoint(async (app, { url, request }) => {
  const { source, q, after } = LiveAsk.parse(Object.fromEntries(url.searchParams))
  const found = await app.live.search({ sourceId: source, q, after }, request.signal)
  return { ...found, sounds: await loadSummaries(app, found.ids, await findRequestContext(app, request)) }
})
