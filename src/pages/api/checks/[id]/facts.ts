import type { APIRoute } from 'astro'
import { endpoint, fileDownload, idParam } from '../../../../server/answer'
import { getFactsText } from '../../../../server/rows/check-facts'

/** The facts of a check, byte for byte as the ledger names them by their hash. */
export const GET: APIRoute = endpoint(async (app, { params }) => {
  const { sha256, json } = await getFactsText(app.db, idParam(params))
  return fileDownload({ mime: 'application/json', fileName: `facts-${sha256.slice(0, 12)}.json` }, json)
})
