import type { APIRoute } from 'astro'
import { z } from 'zod'
import { bodyFile, endpoint, jsonBody } from '../../../server/answer'
import { probeFile, probeSound, probeVideo } from '../../../server/finding/probes'

const Span = z.object({ fromS: z.coerce.number().optional(), toS: z.coerce.number().optional() })
const id = z.number().int().positive()
const span = { fromS: z.number().nonnegative(), toS: z.number().positive() }
const PartOf = z.union([z.object({ soundId: id, ...span }), z.object({ videoId: id, ...span })])

/** Describes a dropped file, or a span of it. */
export const PUT: APIRoute = endpoint(async (app, { request, url }) => {
  const { fromS, toS } = Span.parse(Object.fromEntries(url.searchParams))
  const part = fromS !== undefined && toS !== undefined ? ([fromS, toS] as const) : null
  return probeFile(app, { ...bodyFile(request, url), span: part })
})

/** Describes a part of a sound, or of the finished file of a video. */
export const POST: APIRoute = endpoint(async (app, { request }) => {
  const part = await jsonBody(request, PartOf)
  const between = [part.fromS, part.toS] as const
  return 'soundId' in part
    ? probeSound(app, part.soundId, between, request.signal)
    : probeVideo(app, part.videoId, between, request.signal)
})
