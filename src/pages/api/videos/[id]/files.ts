import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { videoFiles } from '../../../../server/videos/videos'

/** Finished files of a video, the newest first. */
export const GET: APIRoute = endpoint(async (app, { params }) => ({ files: await videoFiles(app, idParam(params)) }))
