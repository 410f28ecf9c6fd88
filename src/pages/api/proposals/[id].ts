import type { APIRoute } from 'astro'
import { ProposalAnswer } from '../../../contract'
import { endpoint, idParam, jsonBody } from '../../../server/answer'
import { answerProposal } from '../../../server/folders/folders'

/** Accepts a proposal as papers, or puts it away. */
export const POST: APIRoute = endpoint(async (app, { params, request }) => ({
  soundCount: await answerProposal(app, idParam(params), await jsonBody(request, ProposalAnswer)),
}))
