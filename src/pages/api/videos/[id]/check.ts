import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { checkAgain } from '../../../../server/checks/start-check'

export const POST: APIRoute = endpoint((app, { params }) => checkAgain(app, idParam(params)))
