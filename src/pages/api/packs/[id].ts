import type { APIRoute } from 'astro'
import { requests as messages } from '../../../messages/server/requests'
import { endpoint, mediaUpload } from '../../../server/answer'
import { bringPack } from '../../../server/folders/packs'

/** Takes in a newer version of a pack. */
export const PUT: APIRoute = endpoint(async (app, context) =>
  bringPack(app, mediaUpload(context, messages.packEmptyDownloadAgainAnd), context.params.id ?? ''),
)
