import type { APIRoute } from 'astro'
import { LibraryInput } from '../../../contract/library-account'
import { tryLibrary } from '../../../server/accounts/try-library'
import { endpoint, jsonBody } from '../../../server/answer'

/** Asks a library for its first sounds, and tells what was understood; nothing is kept of it. */
export const POST: APIRoute = endpoint(async (app, { request }) =>
  tryLibrary(app, await jsonBody(request, LibraryInput), request.signal),
)
