import type { APIRoute } from 'astro'
import { endpoint, findRequestContext } from '../../../server/answer'
import { startSections } from '../../../server/sounds/sections'

export const GET: APIRoute = endpoint(async (app, { request }) =>
  startSections(app, await findRequestContext(app, request)),
)
