import type { APIRoute } from 'astro'
import { LimitInput } from '../../../contract'
import { endpoint, jsonBody } from '../../../server/answer'
import { todayIso } from '../../../server/database/open'
import { loadBasket } from '../../../server/orders/basket'
import { setLimit } from '../../../server/orders/spending-limit'

/** Sets the most that may be spent in a month. */
export const PUT: APIRoute = endpoint(async (app, { request }) => {
  const { currency, minor } = await jsonBody(request, LimitInput)
  await setLimit(app.db, currency, minor)
  return loadBasket(app, todayIso())
})
