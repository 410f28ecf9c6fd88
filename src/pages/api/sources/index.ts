import type { APIRoute } from 'astro'
import { LibraryInput } from '../../../contract/library-account'
import { connectLibrary } from '../../../server/accounts/connect-library'
import { endpoint, jsonBody } from '../../../server/answer'
import { listSources } from '../../../server/sources/list-sources'

export const GET: APIRoute = endpoint(async (app) => ({ sources: await listSources(app) }))

/** Connects a library and begins to read its catalogue. */
export const POST: APIRoute = endpoint(async (app, { request }) =>
  connectLibrary(app, await jsonBody(request, LibraryInput), request.signal),
)
