import type { APIRoute } from 'astro'
import { requests as messages } from '../../../messages/server/requests'
import { endpoint, mediaUpload } from '../../../server/answer'
import { bringPack } from '../../../server/folders/packs'

/** Takes in a pack of sounds as a source of its own. */
export const PUT: APIRoute = endpoint(async (app, context) =>
  bringPack(app, mediaUpload(context, messages.packEmptyDownloadAgainAnd), null),
)
