import { defineMiddleware } from 'astro:middleware'
import { problemAnswer } from './server/answer'
import { DomainError } from './server/domain-error'
import { loopMonitor } from './server/loop-monitor'

/** Names under which this machine reaches itself, with or without a port. */
const LOCAL_HOST = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/

/** Only pages of this application may change anything, and only under a local name: other sites' pages are refused. */
export const onRequest = defineMiddleware(async ({ request, url }, next) => {
  // The header itself: a name that was bound to this address by another site's DNS shows here.
  const foreignHost = !LOCAL_HOST.test(request.headers.get('host') ?? '')
  const origin = request.headers.get('origin')
  const foreignOrigin = request.method !== 'GET' && origin !== null && origin !== url.origin
  // Browsers say where a request comes from; a page may be opened from anywhere, nothing else is.
  const site = request.headers.get('sec-fetch-site')
  const isOpened = request.method === 'GET' && request.headers.get('sec-fetch-mode') === 'navigate'
  const foreignSite = site !== null && site !== 'same-origin' && site !== 'none' && !isOpened
  if (foreignHost || foreignOrigin || foreignSite)
    return withEnd(
      request,
      problemAnswer(new DomainError('foreign', 'This address is only for Good Thud itself on this machine.')),
    )
  // The framework would answer at addresses of its own, for pictures and the like: none of them is ours.
  if (url.pathname.startsWith('/_') && !url.pathname.startsWith('/_astro/'))
    return withEnd(request, problemAnswer(new DomainError('not-found', 'There is nothing at this address.')))
  const end = loopMonitor().begin(`${request.method} ${url.pathname}`)
  const response = await next().finally(end)
  response.headers.set('X-Content-Type-Options', 'nosniff')
  response.headers.set('Referrer-Policy', 'no-referrer')
  response.headers.set('X-Frame-Options', 'DENY')
  if (!response.headers.has('Content-Security-Policy'))
    response.headers.set('Content-Security-Policy', "default-src 'none'; frame-ancestors 'none'")
  response.headers.set('Cross-Origin-Resource-Policy', 'same-origin')
  response.headers.set('Cross-Origin-Opener-Policy', 'same-origin')
  response.headers.set('Permissions-Policy', 'camera=(), microphone=(self), geolocation=(), payment=(), usb=()')
  return withEnd(request, response)
})

/**
 * What was refused may still be on its way, and is not read to its end: the connection is ended with the answer, said in it, so that nobody asks for
 * something else on it and finds it closed.
 */
function withEnd(request: Request, response: Response): Response {
  if (request.body !== null && !response.ok) response.headers.set('Connection', 'close')
  return response
}
