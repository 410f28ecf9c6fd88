import fs from 'node:fs'
import type { APIRoute } from 'astro'
import { z } from 'zod'
import { endpoint, fileDownload, sha256Param } from '../../../../server/answer'
import { copyPart } from '../../../../server/copies/copy-part'

const Part = z.object({ fromS: z.coerce.number(), toS: z.coerce.number() })

/** A part of a copy as a WAV file to save. */
export const GET: APIRoute = endpoint(async (app, { params, request, url }) => {
  const sha256 = sha256Param(params)
  const { fromS, toS } = Part.parse(Object.fromEntries(url.searchParams))
  const { path, fileName } = await copyPart(app, sha256, { startS: fromS, endS: toS }, request.signal)
  try {
    const body = new Uint8Array(await fs.promises.readFile(path))
    return fileDownload({ mime: 'audio/wav', fileName }, body)
  } finally {
    await app.store.removeTemporary(path)
  }
})
