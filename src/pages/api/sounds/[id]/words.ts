import type { APIRoute } from 'astro'
import { OwnWordsInput } from '../../../../contract'
import { endpoint, idParam, jsonBody } from '../../../../server/answer'
import { findOwnWords, setOwnWords } from '../../../../server/rows/own-words'
import { proposeWords } from '../../../../server/sounds/word-proposals'

/** Words for a sound by what it sounds like. */
export const GET: APIRoute = endpoint(async (app, { params }) => proposeWords(app, idParam(params)))

/** Gives a sound of the creator's own words and a category. */
export const PUT: APIRoute = endpoint(async (app, { params, request }) => {
  const id = idParam(params)
  await setOwnWords(app.db, id, await jsonBody(request, OwnWordsInput))
  return findOwnWords(app.db, id)
})
