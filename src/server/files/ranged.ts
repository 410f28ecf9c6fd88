import fs from 'node:fs'
import { Readable } from 'node:stream'
import { files as messages } from '../../messages/server/files'
import { DomainError } from '../domain-error'

/**
 * Answers with a file or the part of it that the request asks for (RFC 9110, one range).
 *
 * @param options.downloadName When given, the browser saves the file under this name.
 * @throws {DomainError} not-found, range.
 */
export async function answerWithFile(
  request: Request,
  path: string,
  options: { readonly mime: string; readonly downloadName?: string; readonly cacheControl?: string },
): Promise<Response> {
  const stat = await fs.promises.stat(path).catch(() => null)
  if (!stat) throw new DomainError('not-found', messages.fileNoLongerHereFetch)
  const range = requestedRange(request.headers.get('range'), stat.size)
  const headers = new Headers({
    'Content-Type': options.mime,
    'Accept-Ranges': 'bytes',
    'Cache-Control': options.cacheControl ?? 'private, max-age=3600',
    'X-Content-Type-Options': 'nosniff',
    'Content-Length': String(range ? range.end - range.start + 1 : stat.size),
  })
  if (range) headers.set('Content-Range', `bytes ${range.start}-${range.end}/${stat.size}`)
  if (options.downloadName) headers.set('Content-Disposition', disposition(options.downloadName))
  const stream = fs.createReadStream(path, range ? { start: range.start, end: range.end } : {})
  request.signal.addEventListener('abort', () => stream.destroy(), { once: true })
  return new Response(Readable.toWeb(stream) as ReadableStream, { status: range ? 206 : 200, headers })
}

/** The bytes asked for, or null for the whole file. */
function requestedRange(header: string | null, size: number): { start: number; end: number } | null {
  if (!header) return null
  const match = /^bytes=(\d*)-(\d*)$/.exec(header.trim())
  if (!match || (match[1] === '' && match[2] === '')) return null
  const start = match[1] === '' ? Math.max(0, size - Number(match[2])) : Number(match[1])
  const end = match[1] === '' || match[2] === '' ? size - 1 : Math.min(size - 1, Number(match[2]))
  if (start >= size || start > end) throw new DomainError('range', messages.fileHasBytesPartAsked(size))
  return { start, end }
}

/** Header that makes a browser save an answer under a name, whatever letters it has. */
export function disposition(name: string): string {
  const ascii = name.replace(/[^\x20-\x7e]|["\\]/g, '_')
  return `attachment; filename="${ascii}"; filename*=UTF-8''${encodeURIComponent(name)}`
}
