import { Readable } from 'node:stream'
import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { batchFiles } from '../../../../server/copies/batch-files'
import { disposition } from '../../../../server/files/ranged'

/** The copies of a batch as one ZIP archive, under their sensible names. */
export const GET: APIRoute = endpoint(async (app, { params }) => {
  const id = idParam(params)
  const archive = await batchFiles(app, id)
  return new Response(Readable.toWeb(archive) as ReadableStream, {
    headers: {
      'Content-Type': 'application/zip',
      'Content-Disposition': disposition(`sounds ${id}.zip`),
      'X-Content-Type-Options': 'nosniff',
      'Cache-Control': 'no-store',
    },
  })
})
