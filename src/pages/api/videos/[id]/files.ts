import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { listVideoFiles } from '../../../../server/videos/videos'

/** Finished files of a video, the newest first. */
export const GET: APIRoute = endpoint(async (app, { params }) => ({
  files: await listVideoFiles(app, idParam(params)),
}))
