import type { APIRoute } from 'astro'
import { MayIInput } from '../../../contract'
import { endpoint, jsonBody } from '../../../server/answer'
import { todayIso } from '../../../server/database/db'
import { mayI } from '../../../server/papers/may-i'

/** May a sound be used in some way? */
export const POST: APIRoute = endpoint(async (app, { request }) => {
  const { soundId, uses, videoId } = await jsonBody(request, MayIInput)
  return mayI(app, soundId, { uses, videoId, asOf: todayIso() })
})
