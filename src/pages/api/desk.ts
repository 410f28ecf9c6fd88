import type { APIRoute } from 'astro'
import { SeenInput } from '../../contract'
import { endpoint, jsonBody } from '../../server/answer'
import { todayIso } from '../../server/database/db'
import { loadDesk, markSeen } from '../../server/desk/desk'

/** What wants attention. */
export const GET: APIRoute = endpoint((app) => loadDesk(app, todayIso()))

/** Puts a notice away, or brings it back. */
export const PATCH: APIRoute = endpoint(async (app, { request }) => {
  const { key, seen } = await jsonBody(request, SeenInput)
  await markSeen(app, key, seen)
  return loadDesk(app, todayIso())
})
