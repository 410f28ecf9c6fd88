import type { APIRoute } from 'astro'
import { requests as messages } from '../../../../messages/server/requests'
import { endpoint, idParam } from '../../../../server/answer'
import { DomainError } from '../../../../server/domain-error'
import { findSpokenWords, removeCaptions, setCaptions } from '../../../../server/videos/captions'

const MAX_BYTES = 5 * 1024 * 1024

export const GET: APIRoute = endpoint(async (app, { params }) => findSpokenWords(app, idParam(params)))

/** Takes in a caption file. */
export const PUT: APIRoute = endpoint(async (app, { params, request, url }) => {
  const bytes = Number(request.headers.get('content-length') ?? 0)
  const text = bytes > MAX_BYTES ? '' : await request.text()
  if (bytes > MAX_BYTES || text.length > MAX_BYTES) throw new DomainError('too-large', messages.captionFileHasAtMost)
  await setCaptions(app, idParam(params), { name: url.searchParams.get('name') ?? '', text })
  return findSpokenWords(app, idParam(params))
})

export const DELETE: APIRoute = endpoint(async (app, { params }) => {
  await removeCaptions(app, idParam(params))
  return findSpokenWords(app, idParam(params))
})
