import type { APIRoute } from 'astro'
import { endpoint } from '../../server/answer'
import { loopMonitor } from '../../server/loop-monitor'

export const GET: APIRoute = endpoint(async () => ({ ok: true, loop: loopMonitor().delays() }))
