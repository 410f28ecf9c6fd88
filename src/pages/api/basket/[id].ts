import type { APIRoute } from 'astro'
import { BasketChange } from '../../../contract'
import { endpoint, idParam, jsonBody } from '../../../server/answer'
import { todayIso } from '../../../server/database/open'
import { changeBasketLine, loadBasket, takeOutOfBasket } from '../../../server/orders/basket'

/** Changes the tier or the video of a line. */
export const PATCH: APIRoute = endpoint(async (app, { params, request }) => {
  await changeBasketLine(app.db, idParam(params), await jsonBody(request, BasketChange))
  return loadBasket(app, todayIso())
})

/** Takes a line out. */
export const DELETE: APIRoute = endpoint(async (app, { params }) => {
  await takeOutOfBasket(app.db, idParam(params))
  return loadBasket(app, todayIso())
})
