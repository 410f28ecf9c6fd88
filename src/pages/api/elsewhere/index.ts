import type { APIRoute } from 'astro'
import { z } from 'zod'
import { bodyFile, endpoint } from '../../../server/answer'
import { takeInFromElsewhere } from '../../../server/folders/elsewhere'

const Span = z.object({ fromS: z.coerce.number().optional(), toS: z.coerce.number().optional() })

/** Takes in a sound from elsewhere: a file, or a span of a video's sound track. */
export const PUT: APIRoute = endpoint(async (app, { request, url }) => {
  const { fromS, toS } = Span.parse(Object.fromEntries(url.searchParams))
  const span = fromS !== undefined && toS !== undefined ? ([fromS, toS] as const) : null
  return takeInFromElsewhere(app, { ...bodyFile(request, url), span })
})
