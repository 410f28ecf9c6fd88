import type { APIRoute } from 'astro'
import { ShelfEdit } from '../../../contract'
import { endpoint, findRequestContext, jsonBody } from '../../../server/answer'
import { editShelf } from '../../../server/shelf/edit-shelf'
import { loadShelf } from '../../../server/shelf/shelf'

export const GET: APIRoute = endpoint(async (app, { request }) =>
  loadShelf(app, await findRequestContext(app, request)),
)

/** Makes one change to several sounds. */
export const PATCH: APIRoute = endpoint(async (app, { request }) => {
  await editShelf(app, await jsonBody(request, ShelfEdit))
  return { done: true }
})
