import type { APIRoute } from 'astro'
import { bodyFile, endpoint } from '../../../server/answer'
import { importPolicies } from '../../../server/terms/import-policies'

/** Takes in a file of ODRL policies as terms, to be confirmed. */
export const PUT: APIRoute = endpoint(async (app, { request, url }) => importPolicies(app, bodyFile(request, url)))
