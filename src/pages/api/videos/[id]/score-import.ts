import type { APIRoute } from 'astro'
import { ScoreImport } from '../../../../contract'
import { endpoint, idParam, jsonBody } from '../../../../server/answer'
import { readScoreList } from '../../../../server/score/import-list'

/** The text of a list, escaped as JSON. */
const MAX_BYTES = 20_000_000

/** What of a list of another program can be placed. Nothing is changed. */
export const POST: APIRoute = endpoint(async (app, { params, request }) =>
  readScoreList(app, idParam(params), await jsonBody(request, ScoreImport, MAX_BYTES)),
)
