import type { APIRoute } from 'astro'
import { endpoint, idParam, requiredRangeParam } from '../../../../server/answer'
import { readCutSamples } from '../../../../server/cuts/cut-files'

/** Samples of a short range, mixed to one channel, as 32-bit floats. */
export const GET: APIRoute = endpoint(async (app, { params, url, request }) => {
  const range = requiredRangeParam(url)
  const { samples, rateHz } = await readCutSamples(app, idParam(params), range, request.signal)
  return new Response(new Uint8Array(samples.buffer as ArrayBuffer, samples.byteOffset, samples.byteLength), {
    headers: {
      'Content-Type': 'application/octet-stream',
      'X-Sample-Rate': String(rateHz),
      'Cache-Control': 'private, max-age=86400',
    },
  })
})
