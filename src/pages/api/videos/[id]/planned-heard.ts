import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { loadPlannedHeard } from '../../../../server/score/planned-heard'

/** What is placed held against what was heard in the newest file. */
export const GET: APIRoute = endpoint(async (app, { params }) => loadPlannedHeard(app, idParam(params)))
