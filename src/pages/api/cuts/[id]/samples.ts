import type { APIRoute } from 'astro'
import { requests as messages } from '../../../../messages/server/requests'
import { endpoint, idParam, rangeParam } from '../../../../server/answer'
import { readCutSamples } from '../../../../server/cuts/cut-files'
import { DomainError } from '../../../../server/domain-error'

/** Samples of a short range, mixed to one channel, as 32-bit floats. */
export const GET: APIRoute = endpoint(async (app, { params, url, request }) => {
  const range = rangeParam(url)
  if (!range) throw new DomainError('bad-range', messages.sayWhichPartIsWanted)
  const { samples, rateHz } = await readCutSamples(app, idParam(params), range, request.signal)
  return new Response(new Uint8Array(samples.buffer as ArrayBuffer, samples.byteOffset, samples.byteLength), {
    headers: {
      'Content-Type': 'application/octet-stream',
      'X-Sample-Rate': String(rateHz),
      'Cache-Control': 'private, max-age=86400',
    },
  })
})
