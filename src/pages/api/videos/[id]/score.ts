import type { APIRoute } from 'astro'
import { ScoreChange } from '../../../../contract'
import { endpoint, idParam, jsonBody } from '../../../../server/answer'
import { changeScore, getScore } from '../../../../server/score/score'

/** A whole score may come in one change, bytes. */
const MAX_BYTES = 8 * 1024 * 1024

export const GET: APIRoute = endpoint(async (app, { params }) => getScore(app, idParam(params)))

/** Does edits on the revision that they were made on. */
export const POST: APIRoute = endpoint(async (app, { params, request }) =>
  changeScore(app, idParam(params), await jsonBody(request, ScoreChange, MAX_BYTES)),
)
