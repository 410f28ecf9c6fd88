import type { APIRoute } from 'astro'
import { VideoInput } from '../../../contract'
import { endpoint, jsonBody } from '../../../server/answer'
import { todayIso } from '../../../server/database/db'
import { createVideo, listVideos } from '../../../server/videos/videos'

export const GET: APIRoute = endpoint(async (app) => ({ videos: await listVideos(app, todayIso()) }))

export const POST: APIRoute = endpoint(async (app, { request }) =>
  createVideo(app, await jsonBody(request, VideoInput), todayIso()),
)
