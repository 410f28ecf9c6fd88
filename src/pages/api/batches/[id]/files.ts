import { Readable } from 'node:stream'
import type { APIRoute } from 'astro'
import { endpoint, fileDownload, idParam } from '../../../../server/answer'
import { getBatchFiles } from '../../../../server/copies/batch-files'

/** The copies of a batch as one ZIP archive, under their sensible names. */
export const GET: APIRoute = endpoint(async (app, { params }) => {
  const id = idParam(params)
  const body = Readable.toWeb(await getBatchFiles(app, id)) as ReadableStream
  return fileDownload({ mime: 'application/zip', fileName: `sounds ${id}.zip` }, body)
})
