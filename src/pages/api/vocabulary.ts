import type { APIRoute } from 'astro'
import { VocabularyInput } from '../../contract'
import { endpoint, jsonBody } from '../../server/answer'
import { loadVocabularyFacts, setOwnVocabulary } from '../../server/finding/own-vocabulary'

export const GET: APIRoute = endpoint(async (app) => loadVocabularyFacts(app))

/** Takes the creator's own lines; they count from the next search on. */
export const PUT: APIRoute = endpoint(async (app, { request }) => {
  const { own } = await jsonBody(request, VocabularyInput)
  await setOwnVocabulary(app, own)
  return loadVocabularyFacts(app)
})
