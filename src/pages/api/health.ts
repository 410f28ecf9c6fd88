import type { APIRoute } from 'astro'
import { endpoint } from '../../server/answer'

export const GET: APIRoute = endpoint(async () => ({ ok: true }))
