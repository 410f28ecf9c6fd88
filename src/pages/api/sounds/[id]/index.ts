import type { APIRoute } from 'astro'
import { decisionContextOf, endpoint, idParam } from '../../../../server/answer'
import { soundDetail } from '../../../../server/sounds/sound-detail'

export const GET: APIRoute = endpoint(async (app, { params, request }) => {
  return soundDetail(app, idParam(params), await decisionContextOf(app, request))
})
