import type { APIRoute } from 'astro'
import { NearbyQuery } from '../../../contract'
import { endpoint, findRequestContext } from '../../../server/answer'
import { nearbySections } from '../../../server/sounds/sections'

export const GET: APIRoute = endpoint(async (app, { url, request }) => {
  const query = NearbyQuery.parse(Object.fromEntries(url.searchParams))
  return nearbySections(app, query, await findRequestContext(app, request))
})
