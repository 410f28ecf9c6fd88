import type { APIRoute } from 'astro'
import { z } from 'zod'
import { endpoint, idParam } from '../../../../server/answer'
import { readStripPicture } from '../../../../server/cuts/cut-files'

const Query = z.object({ at: z.coerce.number().int().min(0) })

/** One small picture of a cut, by its number. */
export const GET: APIRoute = endpoint(async (app, { params, url }) => {
  const { at } = Query.parse(Object.fromEntries(url.searchParams))
  return new Response(await readStripPicture(app, idParam(params), at), {
    headers: {
      'Content-Type': 'image/jpeg',
      'Cache-Control': 'private, max-age=86400',
      'X-Content-Type-Options': 'nosniff',
    },
  })
})
