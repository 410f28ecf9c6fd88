import type { APIRoute } from 'astro'
import { ShelfEdit } from '../../../contract'
import { decisionContextOf, endpoint, jsonBody } from '../../../server/answer'
import { editShelf } from '../../../server/shelf/edit-shelf'
import { shelf } from '../../../server/shelf/shelf'

export const GET: APIRoute = endpoint(async (app, { request }) => shelf(app, await decisionContextOf(app, request)))

/** Makes one change to several sounds. */
export const PATCH: APIRoute = endpoint(async (app, { request }) => {
  await editShelf(app, await jsonBody(request, ShelfEdit))
  return { done: true }
})
