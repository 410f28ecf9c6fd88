import type { APIRoute } from 'astro'
import { MomentsChange } from '../../../../contract'
import { endpoint, idParam, jsonBody } from '../../../../server/answer'
import { changeMoments, getMoments } from '../../../../server/moments/moments'

/** Thousands of moments may come in one import, bytes. */
const MAX_BYTES = 16 * 1024 * 1024

export const GET: APIRoute = endpoint(async (app, { params }) => getMoments(app, idParam(params)))

/** Does edits on the revision that they were made on. */
export const POST: APIRoute = endpoint(async (app, { params, request }) =>
  changeMoments(app, idParam(params), await jsonBody(request, MomentsChange, MAX_BYTES)),
)
