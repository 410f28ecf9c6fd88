import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../server/answer'
import { fileAnswer } from '../../../server/files/ranged'
import { notFound } from '../../../server/problem-error'

/** An evidence file. Only kinds that cannot run anything are shown in place; the rest is handed out as a file. */
export const GET: APIRoute = endpoint(async (app, { params, request }) => {
  const row = await app.db.selectFrom('evidence').selectAll().where('id', '=', idParam(params)).executeTakeFirst()
  if (!row) throw notFound('This file')
  const shown = row.mime.startsWith('image/') || row.mime === 'application/pdf'
  const answer = await fileAnswer(request, app.store.blobPath(row.sha256), {
    mime: shown ? row.mime : 'text/plain; charset=utf-8',
    ...(shown ? {} : { downloadName: row.file_name }),
  })
  answer.headers.set('Content-Security-Policy', "default-src 'none'; style-src 'unsafe-inline'; object-src 'self'")
  return answer
})
