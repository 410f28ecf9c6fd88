import type { APIRoute } from 'astro'
import { endpoint, fileDownload, idParam } from '../../../../server/answer'
import { exportedTerms } from '../../../../server/papers/export-papers'

/** One version of terms as an ODRL policy. */
export const GET: APIRoute = endpoint(async (app, { params }) => {
  const file = await exportedTerms(app, idParam(params))
  return fileDownload(file, file.text)
})
