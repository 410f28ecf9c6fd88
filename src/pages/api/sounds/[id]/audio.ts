import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { answerWithFile } from '../../../../server/files/ranged'
import { getSoundAudio } from '../../../../server/rows/stored-files'

/** The audio of a sound for listening: the copy when it is here, else the preview. Kept by browsers only under an address that names its content. */
export const GET: APIRoute = endpoint(async (app, { params, request, url }) => {
  const id = idParam(params)
  await app.liveListener.hearNow(id)
  const { sha256, mime } = await getSoundAudio(app.db, id)
  const isNamed = url.searchParams.get('content') === sha256
  return answerWithFile(request, app.store.blobPath(sha256), {
    mime,
    cacheControl: isNamed ? 'private, max-age=31536000, immutable' : 'no-store',
  })
})
