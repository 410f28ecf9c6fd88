import type { APIRoute } from 'astro'
import { z } from 'zod'
import { endpoint, idParam, jsonBody } from '../../../../server/answer'
import { startDownload } from '../../../../server/copies/start-download'

const Wish = z.object({ format: z.string().max(8).nullable() })

/** Queues the download of a sound. */
export const POST: APIRoute = endpoint(async (app, { params, request }) => {
  const id = idParam(params)
  const { format } = await jsonBody(request, Wish)
  return startDownload(app, id, format)
})
