import type { APIRoute } from 'astro'
import { z } from 'zod'
import { endpoint, idParam } from '../../../../server/answer'
import { readPeaks } from '../../../../server/cuts/cut-files'

const Query = z.object({
  level: z.coerce.number().int().min(0).max(40),
  from: z.coerce.number().int().min(0),
  count: z.coerce.number().int().min(1).max(65_536),
})

/** A piece of one level of the peaks: pairs of lowest and highest, a byte each. */
export const GET: APIRoute = endpoint(async (app, { params, url }) => {
  const query = Query.parse(Object.fromEntries(url.searchParams))
  return bytesAnswer(await readPeaks(app, idParam(params), query))
})

function bytesAnswer(bytes: Uint8Array<ArrayBuffer>): Response {
  return new Response(bytes, {
    headers: { 'Content-Type': 'application/octet-stream', 'Cache-Control': 'private, max-age=86400' },
  })
}
