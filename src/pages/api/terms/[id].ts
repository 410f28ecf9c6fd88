import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../server/answer'
import { notFound } from '../../../server/problem-error'

/** One version of terms, whole, as it was served. */
export const GET: APIRoute = endpoint(async (app, { params }) => {
  const row = await app.db.selectFrom('terms').selectAll().where('id', '=', idParam(params)).executeTakeFirst()
  if (!row) throw notFound('This version of the terms')
  const { id, title, version, url, text, sha256, seen_at: seenAt } = row
  return { id, title, version, url, text, sha256, seenAt }
})
