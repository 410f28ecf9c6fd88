import type { APIRoute } from 'astro'
import { SeenInput } from '../../contract'
import { endpoint, jsonBody } from '../../server/answer'
import { desk, markSeen } from '../../server/desk/desk'

const today = (): string => new Date().toISOString().slice(0, 10)

/** What wants attention. */
export const GET: APIRoute = endpoint((app) => desk(app, today()))

/** Puts a notice away, or brings it back. */
export const PATCH: APIRoute = endpoint(async (app, { request }) => {
  const { key, seen } = await jsonBody(request, SeenInput)
  await markSeen(app, key, seen)
  return desk(app, today())
})
