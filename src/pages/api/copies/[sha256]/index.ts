import type { APIRoute } from 'astro'
import { endpoint, sha256Param } from '../../../../server/answer'
import { answerWithFile } from '../../../../server/files/ranged'
import { getCopyFile } from '../../../../server/rows/stored-files'

/** A copy as a file to save, under its sensible name. */
export const GET: APIRoute = endpoint(async (app, { params, request }) => {
  const { sha256, mime, fileName } = await getCopyFile(app.db, sha256Param(params))
  return answerWithFile(request, app.store.blobPath(sha256), { mime, downloadName: fileName })
})
