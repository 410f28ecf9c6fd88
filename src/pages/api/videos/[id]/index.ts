import type { APIRoute } from 'astro'
import { VideoInput } from '../../../../contract'
import { endpoint, idParam, jsonBody } from '../../../../server/answer'
import { todayIso } from '../../../../server/database/db'
import { changeVideo, getVideo } from '../../../../server/videos/videos'

export const GET: APIRoute = endpoint((app, { params }) => getVideo(app, idParam(params), todayIso()))

export const PUT: APIRoute = endpoint(async (app, { params, request }) =>
  changeVideo(app, idParam(params), await jsonBody(request, VideoInput), todayIso()),
)
