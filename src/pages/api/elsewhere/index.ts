import type { APIRoute } from 'astro'
import { bodyFile, endpoint, rangeParam } from '../../../server/answer'
import { takeInFromElsewhere } from '../../../server/folders/elsewhere'

/** Takes in a sound from elsewhere: a file, or a range of a video's sound track. */
export const PUT: APIRoute = endpoint(async (app, { request, url }) => {
  return takeInFromElsewhere(app, { ...bodyFile(request, url), range: rangeParam(url) })
})
