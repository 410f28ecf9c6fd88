import { Readable } from 'node:stream'
import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { disposition } from '../../../../server/files/ranged'
import { getScorePackage } from '../../../../server/score/package'

/** Everything that an editing program needs of what is placed, as one archive. */
export const GET: APIRoute = endpoint(async (app, { params }) => {
  const { fileName, body } = await getScorePackage(app, idParam(params))
  return new Response(Readable.toWeb(body) as ReadableStream, {
    headers: {
      'Content-Type': 'application/zip',
      'Content-Disposition': disposition(fileName),
      'Cache-Control': 'no-store',
    },
  })
})
