import type { APIRoute } from 'astro'
import { requests as messages } from '../../../../messages/server/requests'
import { endpoint, idParam, rangeParam } from '../../../../server/answer'
import { DomainError } from '../../../../server/domain-error'
import { proposeWordsForPart } from '../../../../server/sounds/word-proposals'

/** What a part of the finished file sounds like, in words. */
export const GET: APIRoute = endpoint(async (app, { params, request, url }) => {
  const range = rangeParam(url)
  if (!range) throw new DomainError('bad-range', messages.sayWhichPartIsWanted)
  return proposeWordsForPart(app, idParam(params), range, request.signal)
})
