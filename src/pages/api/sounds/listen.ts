import type { APIRoute } from 'astro'
import { ListenInput } from '../../../contract'
import { endpoint, jsonBody } from '../../../server/answer'

/** Has the sounds listened to that are shown, where they belong to a library that is not mirrored. */
export const POST: APIRoute = endpoint(async (app, { request }) => {
  const { ids } = await jsonBody(request, ListenInput)
  return { waiting: await app.liveListener.want(ids) }
})
