import type { APIRoute } from 'astro'
import { DescriptionInput } from '../../contract/library-account'
import { descriptionForForm } from '../../server/accounts/library-kinds'
import { endpoint, jsonBody } from '../../server/answer'

/** Reads the description of a library for the form; nothing is kept of it. */
export const POST: APIRoute = endpoint(async (_app, { request }) => {
  const { text } = await jsonBody(request, DescriptionInput)
  return descriptionForForm(text)
})
