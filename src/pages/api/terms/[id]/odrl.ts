import type { APIRoute } from 'astro'
import { endpoint, fileDownload, idParam } from '../../../../server/answer'
import { exportTerms } from '../../../../server/papers/export-papers'

/** One version of terms as an ODRL policy. */
export const GET: APIRoute = endpoint(async (app, { params }) => {
  const file = await exportTerms(app, idParam(params))
  return fileDownload(file, file.text)
})
