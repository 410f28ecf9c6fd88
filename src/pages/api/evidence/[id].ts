import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../server/answer'
import { answerWithFile } from '../../../server/files/ranged'
import { getEvidenceFile } from '../../../server/rows/stored-files'

/** An evidence file. Only kinds that cannot run anything are shown in place; the rest is handed out as a file. */
export const GET: APIRoute = endpoint(async (app, { params, request }) => {
  const { sha256, mime, fileName } = await getEvidenceFile(app.db, idParam(params))
  const shown = mime.startsWith('image/') || mime === 'application/pdf'
  const answer = await answerWithFile(request, app.store.blobPath(sha256), {
    mime: shown ? mime : 'text/plain; charset=utf-8',
    ...(shown ? {} : { downloadName: fileName }),
  })
  answer.headers.set('Content-Security-Policy', "default-src 'none'; style-src 'unsafe-inline'; object-src 'self'")
  return answer
})
