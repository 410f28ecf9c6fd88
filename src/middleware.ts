import { defineMiddleware } from 'astro:middleware'
import { problemAnswer } from './server/answer'
import { DomainError } from './server/domain-error'

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
    return problemAnswer(new DomainError('foreign', 'This address is only for Good Thud itself on this machine.'))
  const response = await next()
  response.headers.set('X-Content-Type-Options', 'nosniff')
  response.headers.set('Referrer-Policy', 'no-referrer')
  response.headers.set('X-Frame-Options', 'DENY')
  response.headers.set('Cross-Origin-Resource-Policy', 'same-origin')
  response.headers.set('Cross-Origin-Opener-Policy', 'same-origin')
  response.headers.set('Permissions-Policy', 'camera=(), microphone=(), geolocation=(), payment=(), usb=()')
  return response
})
