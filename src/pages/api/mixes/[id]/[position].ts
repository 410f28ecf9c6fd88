import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { answerWithFile } from '../../../../server/files/ranged'
import { getMixFile } from '../../../../server/score/mix-rows'

/** A file of a mix, to be saved: 1 is the mix itself. */
export const GET: APIRoute = endpoint(async (app, { params, request }) => {
  const { sha256, mime, fileName } = await getMixFile(app.db, idParam(params), idParam(params, 'position') - 1)
  return answerWithFile(request, app.store.blobPath(sha256), { mime, downloadName: fileName })
})
