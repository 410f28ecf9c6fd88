import type { APIRoute } from 'astro'
import { endpoint, idParam, mediaUpload } from '../../../../server/answer'
import { bringCut } from '../../../../server/cuts/bring-cut'

/** Takes the bytes of a rough cut as they are. */
export const PUT: APIRoute = endpoint(async (app, context) => {
  const id = idParam(context.params)
  return bringCut(app, id, mediaUpload(context, 'The file is empty. Export the cut again and bring that file.'))
})
