import type { APIRoute } from 'astro'
import { SecretsInput } from '../../../../contract/library-account'
import { changeKey } from '../../../../server/accounts/connect-library'
import { signInOf } from '../../../../server/accounts/library-kinds'
import { endpoint, jsonBody } from '../../../../server/answer'

/** What a library asks for to let one in; never the key itself. */
export const GET: APIRoute = endpoint(async (app, { params }) => ({
  signInWith: signInOf(await app.accounts.find(params.id ?? '')),
}))

/** Takes another key for a library; it is never told again. */
export const PUT: APIRoute = endpoint(async (app, { params, request }) => {
  const { secrets } = await jsonBody(request, SecretsInput)
  await changeKey(app, { id: params.id ?? '', secrets, signal: request.signal })
  return { changed: true }
})
