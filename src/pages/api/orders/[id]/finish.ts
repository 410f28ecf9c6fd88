import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { finishOrder } from '../../../../server/orders/orders'

/** Takes up an order that was paid and whose file or receipt is not here. */
export const POST: APIRoute = endpoint((app, { params }) => finishOrder(app, idParam(params)))
