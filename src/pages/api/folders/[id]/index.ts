import type { APIRoute } from 'astro'
import { endpoint } from '../../../../server/answer'
import { removeFolder } from '../../../../server/folders/folders'

/** Removes a folder from the sources. */
export const DELETE: APIRoute = endpoint(async (app, { params }) => {
  await removeFolder(app, params.id ?? '')
  return { id: params.id }
})
