import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { checkDetail } from '../../../../server/clearance/check-detail'
import { todayIso } from '../../../../server/database/db'

export const GET: APIRoute = endpoint((app, { params }) => checkDetail(app, idParam(params), todayIso()))
