import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { getCheckDetail } from '../../../../server/clearance/check-detail'
import { todayIso } from '../../../../server/database/db'

export const GET: APIRoute = endpoint((app, { params }) => getCheckDetail(app, idParam(params), todayIso()))
