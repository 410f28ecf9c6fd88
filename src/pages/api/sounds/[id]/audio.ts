import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { fileAnswer } from '../../../../server/files/ranged'
import { notFound } from '../../../../server/problem-error'

/** The audio of a sound for listening: the copy when it is here, else the preview. */
export const GET: APIRoute = endpoint(async (app, { params, request }) => {
  const row = await app.db.selectFrom('analyses').selectAll().where('sound_id', '=', idParam(params)).executeTakeFirst()
  if (!row) throw notFound('The audio of this sound')
  return fileAnswer(request, app.store.blobPath(row.audio_sha256), { mime: row.audio_mime })
})
