import type { APIRoute } from 'astro'
import { endpoint, findRequestContext, idParam } from '../../../../server/answer'
import { getSoundDetail } from '../../../../server/sounds/sound-detail'

export const GET: APIRoute = endpoint(async (app, { params, request }) => {
  return getSoundDetail(app, idParam(params), await findRequestContext(app, request))
})
