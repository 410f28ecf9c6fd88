import type { APIRoute } from 'astro'
import { PayInput } from '../../../contract'
import { endpoint, jsonBody } from '../../../server/answer'
import { todayIso } from '../../../server/database/open'
import { payBasket } from '../../../server/orders/basket'

/** Pays for lines of the basket at the prices that were shown. */
export const POST: APIRoute = endpoint(async (app, { request }) =>
  payBasket(app, (await jsonBody(request, PayInput)).lines, todayIso()),
)
