import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { answerWithFile } from '../../../../server/files/ranged'
import { getExportFile } from '../../../../server/rows/stored-files'

/** The finished video itself, for playing in the page. */
export const GET: APIRoute = endpoint(async (app, { params, request }) => {
  const { sha256, mime } = await getExportFile(app.db, idParam(params))
  return answerWithFile(request, app.store.blobPath(sha256), { mime })
})
