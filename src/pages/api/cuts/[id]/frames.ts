import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { getFrameTimesFile } from '../../../../server/cuts/cut-files'
import { answerWithFile } from '../../../../server/files/ranged'

/** When each frame is shown, where they come unevenly: 32-bit numbers of 0.1 ms. */
export const GET: APIRoute = endpoint(async (app, { params, request }) =>
  answerWithFile(request, app.store.blobPath(await getFrameTimesFile(app.db, idParam(params))), {
    mime: 'application/octet-stream',
  }),
)
