import type { APIRoute } from 'astro'
import { z } from 'zod'
import { bodyFile, endpoint, jsonBody, spanParam } from '../../../server/answer'
import { probeFile, probeSound, probeVideo } from '../../../server/finding/probes'

const id = z.number().int().positive()
const span = { fromS: z.number().nonnegative(), toS: z.number().positive() }
const PartOf = z.union([z.object({ soundId: id, ...span }), z.object({ videoId: id, ...span })])

/** Describes a dropped file, or a span of it. */
export const PUT: APIRoute = endpoint(async (app, { request, url }) => {
  return probeFile(app, { ...bodyFile(request, url), span: spanParam(url) })
})

/** Describes a part of a sound, or of the finished file of a video. */
export const POST: APIRoute = endpoint(async (app, { request }) => {
  const part = await jsonBody(request, PartOf)
  const between = [part.fromS, part.toS] as const
  return 'soundId' in part
    ? probeSound(app, part.soundId, between, request.signal)
    : probeVideo(app, part.videoId, between, request.signal)
})
