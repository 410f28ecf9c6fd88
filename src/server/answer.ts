import { Readable } from 'node:stream'
import { z } from 'zod'
import type { Problem } from '../contract'
import type { DecisionContext } from '../core/rights'
import type { TimeRange } from '../core/time-range'
import { application as messages } from '../messages/server/application'
import { sharedApp } from './app'
import type { App } from './context'
import { todayIso } from './database/db'
import { DomainError, type DomainErrorCode } from './domain-error'
import { diskFullError, isDiskFull } from './files/disk-full'
import type { MediaUpload } from './files/media-upload'
import { disposition } from './files/ranged'
import { bodyStream, tended } from './files/web-stream'
import { isNestedDeeper } from './json-depth'
import { MediaError } from './media/decoder'
import { SourceError } from './ports/connector'
import { findDecisionContext } from './rows/video-rows'

interface EndpointContext {
  readonly request: Request
  readonly url: URL
  readonly params: Record<string, string | undefined>
}

/** Largest JSON body that is read, bytes. */
const MAX_BODY_BYTES = 256 * 1024
const MAX_JSON_DEPTH = 32

/** What each expected failure is in HTTP: the one place where that is decided. */
const HTTP_STATUS: Readonly<Record<DomainErrorCode, number>> = {
  'all-bound': 409,
  already: 409,
  'bad-clauses': 400,
  'bad-description': 400,
  'bad-edit': 400,
  'bad-id': 400,
  'bad-json': 400,
  'bad-key': 400,
  'bad-range': 400,
  bought: 409,
  'over-limit': 409,
  changing: 409,
  'choose-tier': 409,
  'disk-full': 507,
  'empty-file': 422,
  foreign: 403,
  'from-library': 409,
  'keys-damaged': 409,
  replaced: 409,
  'name-taken': 409,
  'no-copy': 409,
  'no-export': 409,
  'no-folder': 422,
  'no-such-point': 409,
  none: 502,
  'not-an-answer': 409,
  'not-a-list': 422,
  'not-a-pack': 422,
  'not-captions': 422,
  'not-checked': 409,
  'not-evidence': 415,
  'not-found': 404,
  'not-listened-to': 409,
  'not-odrl': 422,
  'not-offered': 400,
  'not-prepared': 500,
  'nothing-to-do': 409,
  own: 409,
  'own-data': 422,
  'price-changed': 409,
  range: 416,
  'search-stopped': 500,
  silent: 422,
  'too-large': 413,
  'too-many': 422,
  'unreadable-text': 422,
  'unsupported-ending': 415,
  'upload-broke-off': 400,
}

/** Wraps an endpoint: gives it the application, sends its value as JSON, turns failures into problem answers. */
export function endpoint(handle: (app: App, context: EndpointContext) => Promise<unknown>) {
  return async (context: EndpointContext): Promise<Response> => {
    try {
      const value = await handle(await sharedApp(), context)
      return value instanceof Response ? value : Response.json(value, { headers: { 'Cache-Control': 'no-store' } })
    } catch (error) {
      return problemAnswer(error)
    }
  }
}

/** The answer for any failure, in the one shape of RFC 9457. Details of unexpected ones go to the log only. */
export function problemAnswer(error: unknown): Response {
  const problem = problemOf(error)
  return Response.json(problem, {
    status: problem.status,
    headers: { 'Content-Type': 'application/problem+json', 'Cache-Control': 'no-store' },
  })
}

function problemOf(error: unknown): Problem {
  const make = (status: number, code: string, title: string, detail: string): Problem => ({
    type: `urn:good-thud:${code}`,
    title,
    status,
    detail,
    code,
  })
  if (error instanceof DomainError)
    return make(HTTP_STATUS[error.code], error.code, messages.requestCouldNotBeDone, error.detail)
  if (error instanceof z.ZodError) {
    const issue = error.issues[0]
    const where = issue?.path.join('.') ?? ''
    return make(
      400,
      'bad-request',
      messages.requestNotAsExpected,
      `${where ? `“${where}”: ` : ''}${issue?.message ?? ''}`,
    )
  }
  if (isDiskFull(error)) return problemOf(diskFullError(error))
  if (error instanceof SourceError) return make(502, 'source', messages.libraryDidNotDoPart, error.message)
  if (error instanceof MediaError)
    return make(error.code === 'outside' ? 400 : 422, error.code, messages.fileCannotBeListened, error.message)
  console.error(error)
  return make(500, 'internal', messages.somethingWentWrongInside, messages.somethingWentWrongInsideTryAgain)
}

/** Reads and checks a JSON body. @throws {DomainError} bad-json, too-large; ZodError. */
export async function jsonBody<T>(
  request: Request,
  schema: z.ZodType<T>,
  maxBytes: number = MAX_BODY_BYTES,
): Promise<T> {
  const text = await boundedText(request, maxBytes)
  if (isNestedDeeper(text, MAX_JSON_DEPTH))
    throw new DomainError('bad-json', messages.requestNestedMoreThanDeep(MAX_JSON_DEPTH))
  let data: unknown
  try {
    data = JSON.parse(text)
  } catch (cause) {
    throw new DomainError('bad-json', messages.requestNotJsonReloadPage, { cause })
  }
  return schema.parse(data)
}

/** The body of a request as text, read no further than is allowed, whatever length it states. @throws {DomainError} too-large. */
async function boundedText(request: Request, maxBytes: number): Promise<string> {
  const tooLarge = (): DomainError => new DomainError('too-large', messages.theRequestIsTooLarge)
  if (Number(request.headers.get('content-length') ?? 0) > maxBytes) throw tooLarge()
  if (!request.body) return ''
  const pieces: Buffer[] = []
  let size = 0
  for await (const piece of bodyStream(request.body) as AsyncIterable<Buffer>) {
    size += piece.length
    if (size > maxBytes) throw tooLarge()
    pieces.push(piece)
  }
  return Buffer.concat(pieces).toString('utf8')
}

/** A path parameter that must be a positive whole number. @throws {DomainError} bad-id. */
export function idParam(params: Record<string, string | undefined>, name = 'id'): number {
  const value = params[name] ?? ''
  if (!/^[1-9]\d{0,14}$/.test(value)) throw new DomainError('bad-id', messages.addressNamesNothingGoBack)
  return Number(value)
}

/** A path parameter that names a copy. @throws {DomainError} bad-id. */
export function sha256Param(params: Record<string, string | undefined>): string {
  const sha256 = params.sha256 ?? ''
  if (!/^[0-9a-f]{64}$/.test(sha256)) throw new DomainError('bad-id', messages.theAddressNamesNoCopy)
  return sha256
}

/** The file that a request carries as its body, under the name that its address gives. @throws {DomainError} empty-file. */
export function mediaUpload(
  { request, url }: Pick<EndpointContext, 'request' | 'url'>,
  whenEmpty: string,
): MediaUpload {
  if (!request.body) throw new DomainError('empty-file', whenEmpty)
  const length = Number(request.headers.get('content-length') ?? Number.NaN)
  return {
    name: url.searchParams.get('name') ?? '',
    body: bodyStream(request.body),
    sizeBytes: Number.isFinite(length) ? length : null,
    signal: request.signal,
  }
}

const RangeParams = z.object({ fromS: z.coerce.number().optional(), toS: z.coerce.number().optional() })

/** The part that an address asks for, or null where it asks for the whole. @throws {DomainError} bad-range; ZodError. */
export function rangeParam(url: URL): TimeRange | null {
  const { fromS, toS } = RangeParams.parse(Object.fromEntries(url.searchParams))
  if (fromS === undefined && toS === undefined) return null
  if (fromS === undefined || toS === undefined) throw new DomainError('bad-range', messages.sayWherePartBeginsAnd)
  return { startS: fromS, endS: toS }
}

/** The part that an address has to ask for. @throws {DomainError} bad-range; ZodError. */
export function requiredRangeParam(url: URL): TimeRange {
  const range = rangeParam(url)
  if (!range) throw new DomainError('bad-range', messages.sayWhichPartIsWanted)
  return range
}

/** The bytes of a request as a file, with the name that stands in the address. @throws {DomainError} empty-file. */
export function bodyFile(request: Request, url: URL): { name: string; body: Readable; signal: AbortSignal } {
  if (!request.body) throw new DomainError('empty-file', messages.fileEmptyChooseAnotherOne)
  const name = (url.searchParams.get('name') ?? '').slice(0, 300)
  return { name, body: bodyStream(request.body), signal: request.signal }
}

/** A file to save, that is made for this answer. */
export function fileDownload({ mime, fileName }: { mime: string; fileName: string }, body: BodyInit): Response {
  return new Response(body, {
    headers: {
      'Content-Type': mime,
      'Content-Disposition': disposition(fileName),
      'X-Content-Type-Options': 'nosniff',
      'Cache-Control': 'no-store',
    },
  })
}

/** A file that is sent piece by piece as it is made. */
export function streamDownload(file: {
  readonly mime: string
  readonly fileName: string
  readonly pieces: AsyncIterable<string>
}): Response {
  const bytes = Readable.from(file.pieces).map((piece: string) => Buffer.from(piece))
  return fileDownload(file, Readable.toWeb(tended(bytes)) as ReadableStream)
}

/** Header in which each tab names the video that it has in hand: its id, or "none". */
const VIDEO_IN_HAND = 'x-video-in-hand'

/** What a request's decisions are made for: the video that its tab has in hand, else the one last taken in hand, and today. */
export function findRequestContext({ db }: Pick<App, 'db'>, request: Request): Promise<DecisionContext | null> {
  return findDecisionContext(db, { named: namedVideo(request), asOf: todayIso() })
}

/** The video that the tab of a request has in hand; null for none, undefined where it does not say. */
export function namedVideo(request: Request): number | null | undefined {
  const header = request.headers.get(VIDEO_IN_HAND) ?? ''
  if (header === 'none') return null
  return /^\d{1,15}$/.test(header) ? Number(header) : undefined
}
