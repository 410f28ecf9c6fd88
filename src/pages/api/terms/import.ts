import type { APIRoute } from 'astro'
import { z } from 'zod'
import { endpoint, jsonBody } from '../../../server/answer'
import { importTerms } from '../../../server/terms/import-terms'

/** Takes in an ODRL policy as terms. */
export const POST: APIRoute = endpoint(async (app, { request }) => ({
  termsId: await importTerms(app, await jsonBody(request, z.json())),
}))
