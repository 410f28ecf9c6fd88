import type { APIRoute } from 'astro'
import { ReactionSchema } from '../../../contract'
import { endpoint, jsonBody } from '../../../server/answer'
import { loadReaction, saveReaction } from '../../../server/moments/reaction-time'

export const GET: APIRoute = endpoint((app) => loadReaction(app.db))

/** Sets how long somebody takes to press a key, and what it was learned from. */
export const PUT: APIRoute = endpoint(async (app, { request }) =>
  saveReaction(app.db, await jsonBody(request, ReactionSchema)),
)
