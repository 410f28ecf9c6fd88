import type { APIRoute } from 'astro'
import { requests as messages } from '../../../../messages/server/requests'
import { endpoint, idParam, mediaUpload } from '../../../../server/answer'
import { bringCut } from '../../../../server/cuts/bring-cut'

/** Takes the bytes of a rough cut as they are. */
export const PUT: APIRoute = endpoint(async (app, context) => {
  const id = idParam(context.params)
  return bringCut(app, id, mediaUpload(context, messages.fileEmptyExportCutAgain))
})
