import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { fetchCopyAgain } from '../../../../server/orders/fetch-again'

/** Fetches a copy again whose file was lost: under its order where it was bought. */
export const POST: APIRoute = endpoint((app, { params }) => fetchCopyAgain(app, idParam(params)))
