import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { readCutAgain } from '../../../../server/cuts/bring-cut'
import { answerWithFile } from '../../../../server/files/ranged'
import { getCutFile } from '../../../../server/rows/stored-files'

/** The cut itself, for playing in the page. */
export const GET: APIRoute = endpoint(async (app, { params, request }) => {
  const { sha256, mime } = await getCutFile(app.db, idParam(params))
  return answerWithFile(request, app.store.blobPath(sha256), { mime })
})

/** Reads it again after it failed or was stopped. */
export const POST: APIRoute = endpoint((app, { params }) => readCutAgain(app, idParam(params)))
