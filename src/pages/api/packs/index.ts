import type { APIRoute } from 'astro'
import { endpoint, mediaUpload } from '../../../server/answer'
import { bringPack } from '../../../server/folders/packs'

/** Takes in a pack of sounds as a source of its own. */
export const PUT: APIRoute = endpoint(async (app, context) =>
  bringPack(app, mediaUpload(context, 'The pack is empty. Download it again and bring that file.'), null),
)
