import type { APIRoute } from 'astro'
import { BasketInput } from '../../../contract'
import { endpoint, jsonBody } from '../../../server/answer'
import { todayIso } from '../../../server/database/open'
import { loadBasket, putIntoBasket } from '../../../server/orders/basket'

/** What is in the basket. */
export const GET: APIRoute = endpoint((app) => loadBasket(app, todayIso()))

/** Puts an offer into the basket. Nothing is paid. */
export const POST: APIRoute = endpoint(async (app, { request }) => {
  await putIntoBasket(app.db, await jsonBody(request, BasketInput))
  return loadBasket(app, todayIso())
})
