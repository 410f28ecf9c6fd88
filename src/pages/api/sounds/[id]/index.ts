import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { soundDetail } from '../../../../server/sounds/sound-detail'
import { findVideoInHand, usesOfRow } from '../../../../server/videos/video-rows'

export const GET: APIRoute = endpoint(async (app, { params }) => {
  const video = await findVideoInHand(app.db)
  return soundDetail(app, idParam(params), video ? usesOfRow(video) : null)
})
