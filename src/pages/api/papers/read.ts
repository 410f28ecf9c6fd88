import type { APIRoute } from 'astro'
import { ReadInput } from '../../../contract'
import { endpoint, jsonBody } from '../../../server/answer'
import { readingWire } from '../../../server/folders/folders'

/** What a text says of rights: known licences that it is or names, and clauses that its phrases speak for. */
export const POST: APIRoute = endpoint(async ({ readText }, { request }) =>
  readingWire(await readText((await jsonBody(request, ReadInput)).text)),
)
