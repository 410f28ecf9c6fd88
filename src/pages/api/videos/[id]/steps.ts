import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { loadStepFacts } from '../../../../server/videos/steps'

/** How far a video is in its first steps. */
export const GET: APIRoute = endpoint((app, { params }) => loadStepFacts(app, idParam(params)))
