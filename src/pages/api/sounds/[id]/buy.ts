import type { APIRoute } from 'astro'
import { BuyInput } from '../../../../contract'
import { endpoint, idParam, jsonBody } from '../../../../server/answer'
import { placeOrder } from '../../../../server/papers/orders'

/** Buys a sound in one tier. */
export const POST: APIRoute = endpoint(async (app, { params, request }) =>
  placeOrder(app, idParam(params), await jsonBody(request, BuyInput)),
)
