import type { APIRoute } from 'astro'
import { z } from 'zod'
import { endpoint, idParam } from '../../../../server/answer'
import { disposition } from '../../../../server/files/ranged'
import { loadPrintedMoments, momentsHtml, momentsPdf } from '../../../../server/moments/printed-list'

const Query = z.object({ as: z.enum(['html', 'pdf']) })

/** The moments as a list to print. */
export const GET: APIRoute = endpoint(async (app, { params, url }) => {
  const { as } = Query.parse(Object.fromEntries(url.searchParams))
  const list = await loadPrintedMoments(app, idParam(params))
  const name = `${list.title} - moments.${as}`
  if (as === 'html')
    return new Response(momentsHtml(list), {
      headers: { 'Content-Type': 'text/html; charset=utf-8', 'Content-Disposition': disposition(name) },
    })
  return new Response(new Uint8Array(await momentsPdf(list)), {
    headers: { 'Content-Type': 'application/pdf', 'Content-Disposition': disposition(name) },
  })
})
