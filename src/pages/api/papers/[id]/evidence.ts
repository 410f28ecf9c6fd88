import type { APIRoute } from 'astro'
import { bodyFile, endpoint, idParam } from '../../../../server/answer'
import { attachEvidence } from '../../../../server/papers/evidence'

/** Attaches a file to papers. */
export const PUT: APIRoute = endpoint(async (app, { params, request, url }) => {
  const grantId = idParam(params)
  await attachEvidence(app, grantId, bodyFile(request, url))
  return { grantId }
})
