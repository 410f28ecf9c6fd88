import type { APIRoute } from 'astro'
import { endpoint, sha256Param } from '../../../../server/answer'
import { fileAnswer } from '../../../../server/files/ranged'
import { notFound } from '../../../../server/problem-error'

/** A copy as a file to save, under its sensible name. */
export const GET: APIRoute = endpoint(async (app, { params, request }) => {
  const sha256 = sha256Param(params)
  const row = await app.db.selectFrom('copies').selectAll().where('sha256', '=', sha256).executeTakeFirst()
  if (!row) throw notFound('This copy')
  return fileAnswer(request, app.store.blobPath(sha256), { mime: row.mime, downloadName: row.file_name })
})
