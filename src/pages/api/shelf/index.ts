import type { APIRoute } from 'astro'
import { ShelfEdit } from '../../../contract'
import { endpoint, jsonBody } from '../../../server/answer'
import { editShelf } from '../../../server/shelf/edit-shelf'
import { shelf } from '../../../server/shelf/shelf'
import { findAsked } from '../../../server/videos/video-rows'

export const GET: APIRoute = endpoint(async (app) => shelf(app, await findAsked(app.db)))

/** Makes one change to several sounds. */
export const PATCH: APIRoute = endpoint(async (app, { request }) => {
  await editShelf(app, await jsonBody(request, ShelfEdit))
  return { done: true }
})
