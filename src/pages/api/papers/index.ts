import type { APIRoute } from 'astro'
import { endpoint } from '../../../server/answer'
import { papersList } from '../../../server/papers/papers-list'

/** All copies and what their papers allow. */
export const GET: APIRoute = endpoint(async (app) => {
  const today = new Date().toISOString().slice(0, 10)
  return { rows: await papersList(app, today), today }
})
