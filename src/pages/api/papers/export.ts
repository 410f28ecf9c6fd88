import type { APIRoute } from 'astro'
import { z } from 'zod'
import { endpoint, streamDownload } from '../../../server/answer'
import { todayIso } from '../../../server/database/db'
import { EXPORT_FORMATS, exportPapers } from '../../../server/papers/export-papers'

const Query = z.object({ format: z.enum(EXPORT_FORMATS) })

/** All papers as CSV, JSON or ODRL. */
export const GET: APIRoute = endpoint(async (app, { url }) => {
  const { format } = Query.parse(Object.fromEntries(url.searchParams))
  const file = await exportPapers(app, format, todayIso())
  return streamDownload(file)
})
