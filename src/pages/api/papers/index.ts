import type { APIRoute } from 'astro'
import { endpoint } from '../../../server/answer'
import { todayIso } from '../../../server/database/db'
import { listPapers } from '../../../server/papers/papers-list'

/** All copies and what their papers allow. */
export const GET: APIRoute = endpoint(async (app) => {
  const today = todayIso()
  return { rows: await listPapers(app, today), today }
})
