import type { APIRoute } from 'astro'
import { requests as messages } from '../../../../messages/server/requests'
import { endpoint, idParam, mediaUpload } from '../../../../server/answer'
import { takeInExport } from '../../../../server/checks/start-check'

/** Takes the bytes of a finished video as they are (no form), so that they can be streamed to disk. */
export const PUT: APIRoute = endpoint(async (app, context) => {
  const id = idParam(context.params)
  return takeInExport(app, id, mediaUpload(context, messages.fileEmptyExportVideoAgain))
})
