import type { APIRoute } from 'astro'
import { ConfirmPolicyInput } from '../../../../contract'
import { endpoint, idParam, jsonBody } from '../../../../server/answer'
import { confirmPolicy } from '../../../../server/terms/confirm-policy'

/** Puts on record which points of an imported policy the creator has confirmed. */
export const POST: APIRoute = endpoint(async (app, { request, params }) => {
  const { confirmed } = await jsonBody(request, ConfirmPolicyInput)
  return { termsId: await confirmPolicy(app, idParam(params), confirmed) }
})
