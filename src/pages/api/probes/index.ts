import type { APIRoute } from 'astro'
import { z } from 'zod'
import { bodyFile, endpoint, jsonBody, rangeParam } from '../../../server/answer'
import { probeFile, probeSound, probeVideo } from '../../../server/finding/probes'

const id = z.number().int().positive()
const times = { fromS: z.number().nonnegative(), toS: z.number().positive() }
const PartOf = z.union([z.object({ soundId: id, ...times }), z.object({ videoId: id, ...times })])

/** Describes a dropped file, or a range of it. */
export const PUT: APIRoute = endpoint(async (app, { request, url }) => {
  return probeFile(app, { ...bodyFile(request, url), range: rangeParam(url) })
})

/** Describes a part of a sound, or of the finished file of a video. */
export const POST: APIRoute = endpoint(async (app, { request }) => {
  const part = await jsonBody(request, PartOf)
  const range = { startS: part.fromS, endS: part.toS }
  return 'soundId' in part
    ? probeSound(app, part.soundId, range, request.signal)
    : probeVideo(app, part.videoId, range, request.signal)
})
