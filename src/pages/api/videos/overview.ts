import type { APIRoute } from 'astro'
import { endpoint } from '../../../server/answer'
import { loadOverviews } from '../../../server/videos/steps'

/** How far all videos are, with their lengths and pictures. */
export const GET: APIRoute = endpoint(async (app) => ({ videos: await loadOverviews(app) }))
