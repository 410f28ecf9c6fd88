import type { APIRoute } from 'astro'
import { CollectionInput } from '../../../contract'
import { endpoint, jsonBody } from '../../../server/answer'
import { makeCollection } from '../../../server/shelf/collections'

export const POST: APIRoute = endpoint(async (app, { request }) => {
  const { name } = await jsonBody(request, CollectionInput)
  return { id: await makeCollection(app, name) }
})
