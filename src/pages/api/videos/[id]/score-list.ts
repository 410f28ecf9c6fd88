import type { APIRoute } from 'astro'
import { z } from 'zod'
import { endpoint, idParam } from '../../../../server/answer'
import { disposition } from '../../../../server/files/ranged'
import { loadCueSheet } from '../../../../server/score/cue-sheet'
import { loadScoreList, SCORE_LIST_FORMATS } from '../../../../server/score/score-list'

const Query = z.object({ as: z.enum([...SCORE_LIST_FORMATS, 'csv']) })

const CONTENT_TYPES = {
  otio: 'application/json; charset=utf-8',
  edl: 'text/plain; charset=utf-8',
  csv: 'text/csv; charset=utf-8',
} as const

/** What is placed, as a list for an editing program or a table program. */
export const GET: APIRoute = endpoint(async (app, { params, url }) => {
  const { as } = Query.parse(Object.fromEntries(url.searchParams))
  const id = idParam(params)
  const { title, text } = as === 'csv' ? await loadCueSheet(app, id) : await loadScoreList(app, id, as)
  return new Response(text, {
    headers: {
      'Content-Type': CONTENT_TYPES[as],
      'Content-Disposition': disposition(as === 'csv' ? `${title}, cue sheet.csv` : `${title}.${as}`),
      'Cache-Control': 'no-store',
    },
  })
})
