import type { APIRoute } from 'astro'
import { endpoint, idParam, requiredRangeParam } from '../../../../server/answer'
import { proposeWordsForPart } from '../../../../server/sounds/word-proposals'

/** What a part of the finished file sounds like, in words. */
export const GET: APIRoute = endpoint(async (app, { params, request, url }) => {
  return proposeWordsForPart(app, idParam(params), requiredRangeParam(url), request.signal)
})
