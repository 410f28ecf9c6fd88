import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { loadUsedSounds } from '../../../../server/score/used-sounds'

/** Every sound that is placed in a video, weighed for it. */
export const GET: APIRoute = endpoint(async (app, { params }) => loadUsedSounds(app, idParam(params)))
