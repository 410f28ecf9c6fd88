import type { APIRoute } from 'astro'
import { DeclarationInput } from '../../../../contract'
import { endpoint, idParam, jsonBody } from '../../../../server/answer'
import { declarePapers } from '../../../../server/papers/declare'

/** Puts on record where a sound is from and under which terms. */
export const POST: APIRoute = endpoint(async (app, { params, request }) => {
  const soundId = idParam(params)
  const said = await jsonBody(request, DeclarationInput)
  await declarePapers(app, soundId, said)
  return { soundId }
})
