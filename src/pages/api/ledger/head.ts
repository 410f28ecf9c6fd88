import type { APIRoute } from 'astro'
import { KeptHead } from '../../../contract'
import { endpoint, jsonBody } from '../../../server/answer'
import { compareHead } from '../../../server/ledger/verify'

/** Compares an entry that was noted elsewhere. */
export const POST: APIRoute = endpoint(async (app, { request }) =>
  compareHead(app.db, await jsonBody(request, KeptHead)),
)
