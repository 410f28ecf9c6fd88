import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { soundDetail } from '../../../../server/sounds/sound-detail'
import { findAsked } from '../../../../server/videos/video-rows'

export const GET: APIRoute = endpoint(async (app, { params }) => {
  return soundDetail(app, idParam(params), await findAsked(app.db))
})
