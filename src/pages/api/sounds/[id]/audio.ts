import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { fileAnswer } from '../../../../server/files/ranged'
import { notFound } from '../../../../server/problem-error'

/** The audio of a sound for listening: the copy when it is here, else the preview. Kept by browsers only under an address that names its content. */
export const GET: APIRoute = endpoint(async (app, { params, request, url }) => {
  const row = await app.db.selectFrom('analyses').selectAll().where('sound_id', '=', idParam(params)).executeTakeFirst()
  if (!row) throw notFound('The audio of this sound')
  const isNamed = url.searchParams.get('content') === row.audio_sha256
  return fileAnswer(request, app.store.blobPath(row.audio_sha256), {
    mime: row.audio_mime,
    cacheControl: isNamed ? 'private, max-age=31536000, immutable' : 'no-store',
  })
})
