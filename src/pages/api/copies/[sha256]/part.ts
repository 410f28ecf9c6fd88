import fs from 'node:fs'
import type { APIRoute } from 'astro'
import { z } from 'zod'
import { endpoint } from '../../../../server/answer'
import { copyPart } from '../../../../server/copies/copy-part'
import { disposition } from '../../../../server/files/ranged'
import { ProblemError } from '../../../../server/problem-error'

const Span = z.object({ fromS: z.coerce.number(), toS: z.coerce.number() })

/** A part of a copy as a WAV file to save. */
export const GET: APIRoute = endpoint(async (app, { params, request, url }) => {
  const sha256 = params.sha256 ?? ''
  if (!/^[0-9a-f]{64}$/.test(sha256)) throw new ProblemError(400, 'bad-id', 'The address names no copy.')
  const { fromS, toS } = Span.parse(Object.fromEntries(url.searchParams))
  const { path, fileName } = await copyPart(app, sha256, [fromS, toS], request.signal)
  try {
    const bytes = await fs.promises.readFile(path)
    return new Response(new Uint8Array(bytes), {
      headers: {
        'Content-Type': 'audio/wav',
        'Content-Disposition': disposition(fileName),
        'X-Content-Type-Options': 'nosniff',
        'Cache-Control': 'no-store',
      },
    })
  } finally {
    await app.store.removeTemporary(path)
  }
})
