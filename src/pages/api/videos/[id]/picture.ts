import type { APIRoute } from 'astro'
import { endpoint, idParam } from '../../../../server/answer'
import { readVideoPicture } from '../../../../server/cuts/cut-files'

/** A small picture that stands for a video: one of its newest cut. */
export const GET: APIRoute = endpoint(
  async (app, { params }) =>
    new Response(await readVideoPicture(app, idParam(params)), {
      headers: {
        'Content-Type': 'image/jpeg',
        'Cache-Control': 'private, max-age=60',
        'X-Content-Type-Options': 'nosniff',
      },
    }),
)
