import type { APIRoute } from 'astro'
import { KeepInput } from '../../../contract'
import { endpoint, idParam, jsonBody } from '../../../server/answer'
import { editShelf, keepSound } from '../../../server/shelf/edit-shelf'

/** Keeps a sound, with a note and in a collection where they are given. */
export const PUT: APIRoute = endpoint(async (app, { params, request }) => {
  await keepSound(app, idParam(params), await jsonBody(request, KeepInput))
  return { done: true }
})

export const DELETE: APIRoute = endpoint(async (app, { params }) => {
  await editShelf(app, { do: 'unkeep', soundIds: [idParam(params)] })
  return { done: true }
})
