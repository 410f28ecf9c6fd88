import { createHash } from 'node:crypto'
import { Readable } from 'node:stream'
import { sources as messages } from '../../messages/server/sources'
import { tended } from '../files/web-stream'
import { SourceError } from '../ports/connector'
import type { Exchange } from './exchange'

/** An answer that is still being read, and the exchange that it is part of. */
export interface Answered {
  readonly response: Response
  readonly exchange: Exchange
}

/** A break after which nothing new came is forgiven this often in a row. */
const BREAKS_MAX = 4

/** How a body is read. */
export interface BodyOptions {
  readonly libraryName: string
  /** Nothing may come for this long, ms. */
  readonly idleMs: number
  /** Asks for the rest of it. */
  readonly reopen: (headers: Readonly<Record<string, string>>) => Promise<Answered>
}

/**
 * The body of an answer, whole: however long it takes, as long as something comes. Where it breaks off and the library can send parts of a
 * file, the rest is asked for, if it is still the same file; its length and its hash are compared where the library tells them.
 *
 * Source: RFC 9110, sections 13.1.5 (If-Range) and 14 (ranges); RFC 9530 (Repr-Digest).
 */
export function resumableBody(first: Answered, options: BodyOptions): Readable {
  return tended(Readable.from(pieces(first, options), { objectMode: false }))
}

async function* pieces(first: Answered, { libraryName, idleMs, reopen }: BodyOptions): AsyncGenerator<Uint8Array> {
  const { headers } = first.response
  // What was packed for the way has another length than what comes out.
  const total = headers.has('content-encoding') ? null : lengthIn(headers.get('content-length'))
  const digest = digestIn(headers.get('repr-digest'))
  const validator = validatorIn(headers)
  const hash = createHash('sha256')
  let current = first
  let done = 0
  for (let breaks = 0; ; ) {
    let failure: unknown = null
    const atFirst = done
    try {
      for await (const piece of readPieces(current, idleMs)) {
        done += piece.length
        hash.update(piece)
        yield piece
      }
    } catch (error) {
      if (current.exchange.signal.aborted && !current.exchange.isStalled) throw error
      failure = error
    }
    if (total === null ? failure === null : done === total) break
    if (total !== null && done > total) throw partly(libraryName, failure)
    breaks = done > atFirst ? 1 : breaks + 1
    if (total === null || validator === null || breaks > BREAKS_MAX) throw partly(libraryName, failure)
    current = await reopen({ Range: `bytes=${done}-`, 'If-Range': validator })
    if (!continuesAt(current.response, done, total)) {
      await dropped(current)
      throw new SourceError('down', messages.sentOnlyPartFileAnd(libraryName))
    }
  }
  if (digest !== null && digest !== hash.digest('base64'))
    throw new SourceError('nonsense', messages.sentFileThatNotOne(libraryName))
}

/** The pieces of a body as they come; ended when nothing comes for too long. */
export async function* readPieces({ response, exchange }: Answered, idleMs: number): AsyncGenerator<Uint8Array> {
  const reader = (response.body as ReadableStream<Uint8Array>).getReader()
  try {
    for (;;) {
      exchange.expectWithin(idleMs)
      const { done, value } = await reader.read()
      if (done) return
      yield value
    }
  } finally {
    exchange.end()
    // Whoever reads no further needs no more of it.
    await reader.cancel().catch(() => {})
  }
}

/** Lets an answer go that is not read. */
export async function dropped({ response, exchange }: Answered): Promise<void> {
  exchange.end()
  await response.body?.cancel().catch(() => {})
}

function partly(libraryName: string, cause: unknown): SourceError {
  return new SourceError('down', messages.sentOnlyPartFileDownload(libraryName), { cause })
}

/** Whether an answer is the rest of the same file from a byte on. */
function continuesAt({ status, headers }: Response, from: number, total: number): boolean {
  const [, start, whole] = /^bytes (\d+)-\d+\/(\d+)$/.exec(headers.get('content-range') ?? '') ?? []
  return status === 206 && Number(start) === from && Number(whole) === total
}

/** What tells one file from another: a strong tag, else the time of its last change. */
function validatorIn(headers: Headers): string | null {
  const tag = headers.get('etag')
  if (tag !== null && !tag.startsWith('W/')) return tag
  return headers.get('last-modified')
}

function lengthIn(header: string | null): number | null {
  return header !== null && /^\d{1,15}$/.test(header) ? Number(header) : null
}

/** The SHA-256 of the whole file in Base64, where the library tells it. */
function digestIn(header: string | null): string | null {
  return /(?:^|,)\s*sha-256=:([A-Za-z0-9+/]{43}=):/.exec(header ?? '')?.[1] ?? null
}
