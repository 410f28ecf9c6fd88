import type { APIRoute } from 'astro'
import { CollectionChange } from '../../../contract'
import { endpoint, idParam, jsonBody } from '../../../server/answer'
import { changeCollection, endCollection } from '../../../server/shelf/collections'

/** Renames a collection, or puts it before another. */
export const PATCH: APIRoute = endpoint(async (app, { params, request }) => {
  await changeCollection(app, idParam(params), await jsonBody(request, CollectionChange))
  return { done: true }
})

export const DELETE: APIRoute = endpoint(async (app, { params }) => {
  await endCollection(app, idParam(params))
  return { done: true }
})
