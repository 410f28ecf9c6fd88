import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../server/answer'
import { fileAnswer } from '../../../server/files/ranged'
import { notFound } from '../../../server/problem-error'

/** The finished video itself, for playing in the page. */
export const GET: APIRoute = endpoint(async (app, { params, request }) => {
  const row = await app.db.selectFrom('exports').selectAll().where('id', '=', idParam(params)).executeTakeFirst()
  if (!row) throw notFound('This file')
  return fileAnswer(request, app.store.blobPath(row.sha256), { mime: row.mime })
})
