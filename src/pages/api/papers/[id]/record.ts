import type { APIRoute } from 'astro'
import { RecordInput } from '../../../../contract'
import { endpoint, idParam, jsonBody } from '../../../../server/answer'
import { bindVideo } from '../../../../server/papers/bind-video'

/** Puts on record that papers are for a video, or that a duty was met for it. */
export const POST: APIRoute = endpoint(async (app, { params, request }) => {
  const grantId = idParam(params)
  const input = await jsonBody(request, RecordInput)
  await bindVideo(app.db, { grantId, ...input })
  return { grantId }
})
