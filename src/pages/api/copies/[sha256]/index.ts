import type { APIRoute } from 'astro'
import { endpoint } from '../../../../server/answer'
import { fileAnswer } from '../../../../server/files/ranged'
import { notFound, ProblemError } from '../../../../server/problem-error'

/** A copy as a file to save, under its sensible name. */
export const GET: APIRoute = endpoint(async (app, { params, request }) => {
  const sha256 = params.sha256 ?? ''
  if (!/^[0-9a-f]{64}$/.test(sha256)) throw new ProblemError(400, 'bad-id', 'The address names no copy.')
  const row = await app.db.selectFrom('copies').selectAll().where('sha256', '=', sha256).executeTakeFirst()
  if (!row) throw notFound('This copy')
  return fileAnswer(request, app.store.blobPath(sha256), { mime: row.mime, downloadName: row.file_name })
})
