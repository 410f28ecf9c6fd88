import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { getTermsPage } from '../../../../server/terms/terms-page'

/** One version of terms, whole, with what is told of it. */
export const GET: APIRoute = endpoint((app, { params }) => getTermsPage(app, idParam(params)))
