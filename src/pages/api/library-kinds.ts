import type { APIRoute } from 'astro'
import { libraryKinds } from '../../server/accounts/library-kinds'
import { endpoint } from '../../server/answer'

/** The kinds of libraries that can be connected without a description. */
export const GET: APIRoute = endpoint(async (app) => ({ kinds: libraryKinds(app.accounts) }))
