import type { APIRoute } from 'astro'
import { endpoint, idParam, streamDownload } from '../../../../server/answer'
import { exportTerms } from '../../../../server/papers/export-odrl'

/** One version of terms as an ODRL policy. */
export const GET: APIRoute = endpoint(async (app, { params }) => {
  const file = await exportTerms(app, idParam(params))
  return streamDownload(file)
})
