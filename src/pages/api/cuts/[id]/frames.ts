import type { APIRoute } from 'astro'
import { requests as messages } from '../../../../messages/server/requests'
import { endpoint, idParam } from '../../../../server/answer'
import { getFrameTimesFile, takeFrameTimes } from '../../../../server/cuts/cut-files'
import { DomainError } from '../../../../server/domain-error'
import { answerWithFile } from '../../../../server/files/ranged'
import { bodyStream } from '../../../../server/files/web-stream'

/** When each frame is shown, where they come unevenly: 32-bit numbers of 0.1 ms. */
export const GET: APIRoute = endpoint(async (app, { params, request }) =>
  answerWithFile(request, app.store.blobPath(await getFrameTimesFile(app.db, idParam(params))), {
    mime: 'application/octet-stream',
  }),
)

/** Takes the same from the browser that read the picture. */
export const PUT: APIRoute = endpoint(async (app, { params, request }) => {
  if (!request.body) throw new DomainError('empty-file', messages.thereAreNoTimesIn)
  return takeFrameTimes(app, idParam(params), bodyStream(request.body), request.signal)
})
