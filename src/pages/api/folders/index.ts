import type { APIRoute } from 'astro'
import { FolderInput } from '../../../contract'
import { endpoint, jsonBody } from '../../../server/answer'
import { addFolder } from '../../../server/folders/folders'

/** Makes a folder a source. */
export const POST: APIRoute = endpoint(async (app, { request }) => addFolder(app, await jsonBody(request, FolderInput)))
