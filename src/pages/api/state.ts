import type { APIRoute } from 'astro'
import { ShellChange } from '../../contract'
import { endpoint, jsonBody, namedVideo } from '../../server/answer'
import { changeShell, loadShellState } from '../../server/shell-state'

export const GET: APIRoute = endpoint((app, { request }) => loadShellState(app, namedVideo(request)))

export const PATCH: APIRoute = endpoint(async (app, { request }) =>
  changeShell(app, await jsonBody(request, ShellChange), namedVideo(request)),
)
