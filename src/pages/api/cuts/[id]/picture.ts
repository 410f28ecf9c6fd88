import type { APIRoute } from 'astro'
import { CutPictureSchema } from '../../../../contract'
import { requests as messages } from '../../../../messages/server/requests'
import { endpoint, idParam, jsonBody } from '../../../../server/answer'
import { takePicture, takeStrip } from '../../../../server/cuts/cut-files'
import { DomainError } from '../../../../server/domain-error'
import { bodyStream } from '../../../../server/files/web-stream'

const MAX_BYTES = 16 * 1024 * 1024

/** Takes the small pictures that the browser made, one after the other. */
export const PUT: APIRoute = endpoint(async (app, { params, request }) => {
  if (!request.body) throw new DomainError('empty-file', messages.thereAreNoPicturesIn)
  return takeStrip(app, idParam(params), bodyStream(request.body), request.signal)
})

/** Takes what the browser saw in the picture of a cut. */
export const POST: APIRoute = endpoint(async (app, { params, request }) => {
  await takePicture(app, idParam(params), await jsonBody(request, CutPictureSchema, MAX_BYTES))
  return { done: true }
})
