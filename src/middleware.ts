import { defineMiddleware } from 'astro:middleware'
import { problemAnswer } from './server/answer'
import { ProblemError } from './server/problem-error'

const LOCAL_HOSTS = new Set(['localhost', '127.0.0.1', '[::1]'])

/** Only pages of this application may change anything, and only under a local name: other sites' pages are kept out. */
export const onRequest = defineMiddleware(async ({ request, url }, next) => {
  const foreignHost = !LOCAL_HOSTS.has(url.hostname)
  const origin = request.headers.get('origin')
  const foreignOrigin = request.method !== 'GET' && origin !== null && origin !== url.origin
  if (foreignHost || foreignOrigin)
    return problemAnswer(new ProblemError(403, 'foreign', 'This address is only for Good Thud itself on this machine.'))
  const response = await next()
  response.headers.set('X-Content-Type-Options', 'nosniff')
  response.headers.set('Referrer-Policy', 'no-referrer')
  response.headers.set('X-Frame-Options', 'DENY')
  return response
})
