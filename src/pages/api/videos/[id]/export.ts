import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { takeInExport } from '../../../../server/checks/start-check'
import { DomainError } from '../../../../server/domain-error'
import { bodyStream } from '../../../../server/files/web-stream'

/** Takes the bytes of a finished video as they are (no form), so that they can be streamed to disk. */
export const PUT: APIRoute = endpoint(async (app, { params, request, url }) => {
  const id = idParam(params)
  if (!request.body)
    throw new DomainError('empty-file', 'The file is empty. Export the video again and bring that file.')
  const length = Number(request.headers.get('content-length') ?? Number.NaN)
  return takeInExport(app, id, {
    name: url.searchParams.get('name') ?? '',
    body: bodyStream(request.body),
    sizeBytes: Number.isFinite(length) ? length : null,
    signal: request.signal,
  })
})
