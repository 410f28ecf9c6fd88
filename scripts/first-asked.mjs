/** What is asked of a server when somebody opens it. */
export const FIRST_ASKED = [
  '/',
  '/api/state',
  '/api/jobs',
  '/api/desk',
  '/api/sources',
  '/api/videos',
  '/api/sounds?q=door',
]
