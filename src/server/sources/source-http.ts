import net from 'node:net'
import PQueue from 'p-queue'
import type { z } from 'zod'
import { sources as messages } from '../../messages/server/sources'
import { isNestedDeeper } from '../json-depth'
import { notUnderstood, type ServedFile, SourceError } from '../ports/connector'
import { requirePublicAddress } from './address-guard'
import { Exchange } from './exchange'
import { KnownAnswers } from './known-answers'
import { outboundFetch } from './proxied-fetch'
import { type Answered, dropped, readPieces, resumableBody } from './resumable-body'

/** An answer has to begin within this time, and to go on within it; how long the whole takes does not matter. */
const TIMEOUT_MS = 20_000
/** What was ordered may be made by the library only then: it begins within so many times as long. */
const MADE_TIMES = 3
/** JSON has to be whole within this time: it is not long. */
const JSON_MAX_MS = 120_000
const MAX_JSON_BYTES = 16 * 1024 * 1024
const MAX_JSON_DEPTH = 64
/** A file of which more than this is announced is not begun. */
const MAX_FILE_BYTES = 2 * 1024 * 1024 * 1024
/** A library that is busy or fails is asked this often in all. */
const TRIES = 4
const WAIT_MAX_S = 20
const AT_ONCE = 4

/** How patient and how polite to be. */
export interface HttpPolicy {
  /** First wait after a failure, ms; doubled each time, and each time a chance share of it. */
  readonly backoffMs: number
  readonly requestsPerS: number
  /** Uniform, 0 to 1. */
  readonly chance: () => number
  /** How long nothing may come, ms; 20 s unless said. */
  readonly idleMs?: number
}

export const DEFAULT_HTTP_POLICY: HttpPolicy = { backoffMs: 500, requestsPerS: 20, chance: Math.random }

/** Media types as they are sent for each kind of file. */
const ENDINGS: Readonly<Record<string, string>> = {
  'audio/wav': 'wav',
  'audio/x-wav': 'wav',
  'audio/wave': 'wav',
  'audio/vnd.wave': 'wav',
  'audio/flac': 'flac',
  'audio/x-flac': 'flac',
  'audio/mpeg': 'mp3',
  'audio/mp3': 'mp3',
  'audio/ogg': 'ogg',
  'audio/opus': 'ogg',
  'application/ogg': 'ogg',
  'audio/mp4': 'm4a',
  'audio/m4a': 'm4a',
  'audio/x-m4a': 'm4a',
  'audio/aiff': 'aiff',
  'audio/x-aiff': 'aiff',
  'application/pdf': 'pdf',
}
const KNOWN_ENDINGS = new Set(Object.values(ENDINGS))
/** What a server sends that does not know what it serves: then the address says it. */
const UNTOLD = new Set(['application/octet-stream', 'binary/octet-stream'])
const REDIRECTS_MAX = 5

/** HTTP to one library: its host and those that its files come from, bounded times, sizes and rates, no way to any other host. */
export class SourceHttp {
  private readonly base: URL
  private readonly queue: PQueue
  private readonly known = new KnownAnswers()

  constructor(
    private readonly libraryName: string,
    baseUrl: string,
    private readonly httpPolicy: HttpPolicy = DEFAULT_HTTP_POLICY,
    /** Hosts beside its own that files may come from, with their ports. */
    private readonly downloadHosts: readonly string[] = [],
  ) {
    this.base = new URL(baseUrl)
    this.queue = new PQueue({ concurrency: AT_ONCE, interval: 1000, intervalCap: httpPolicy.requestsPerS })
  }

  /** Asks for JSON of a known shape. @throws {SourceError} */
  async json<T>(path: string, schema: z.ZodType<T>, init: RequestInit & { signal: AbortSignal }): Promise<T> {
    return (await this.jsonWithHeaders(path, schema, init)).value
  }

  /** The same, with the headers that came with it. @throws {SourceError} */
  async jsonWithHeaders<T>(
    path: string,
    schema: z.ZodType<T>,
    init: RequestInit & { signal: AbortSignal },
  ): Promise<{ readonly value: T; readonly headers: Headers }> {
    const { text, headers } = await this.textOf(path, init)
    if (isNestedDeeper(text, MAX_JSON_DEPTH)) throw this.nonsense(messages.answerNestedMoreThanDeep(MAX_JSON_DEPTH))
    let data: unknown
    try {
      data = JSON.parse(text)
    } catch (cause) {
      throw this.nonsense(messages.itsAnswerIsNotJson, cause)
    }
    const parsed = schema.safeParse(data)
    if (!parsed.success) {
      const issue = parsed.error.issues[0]
      throw this.nonsense(messages.notAsExpected(issue?.path.join('.') ?? ''), parsed.error)
    }
    return { value: parsed.data, headers }
  }

  /** The text of an answer; the one that is known where the library says that it has not changed. */
  private async textOf(
    path: string,
    init: RequestInit & { signal: AbortSignal },
  ): Promise<{ readonly text: string; readonly headers: Headers }> {
    const mayBeKnown = (init.method ?? 'GET') === 'GET'
    const known = mayBeKnown ? this.known.find(path) : null
    const asked = known ? { ...init, headers: { ...init.headers, 'If-None-Match': known.tag } } : init
    const answered = await this.request(path, asked)
    if (known && answered.response.status === 304) {
      await dropped(answered)
      return known
    }
    const text = await this.readBoundedText(answered)
    if (mayBeKnown) this.known.keep(path, text, answered.response.headers)
    return { text, headers: answered.response.headers }
  }

  /** Asks for an audio file. The body must be read or destroyed. @throws {SourceError} */
  file(path: string, init: RequestInit & { signal: AbortSignal }): Promise<ServedFile> {
    return this.served(path, init, this.idleMs)
  }

  /** The same for one that was ordered: a library may make it only then. */
  ordered(path: string, init: RequestInit & { signal: AbortSignal }): Promise<ServedFile> {
    return this.served(path, init, MADE_TIMES * this.idleMs)
  }

  private async served(
    path: string,
    init: RequestInit & { signal: AbortSignal },
    beginMs: number,
  ): Promise<ServedFile> {
    const answered = await this.request(path, init, { beginMs })
    const { response } = answered
    const mime = (response.headers.get('content-type') ?? '').split(';')[0]?.trim() ?? ''
    const ending = ENDINGS[mime] ?? (UNTOLD.has(mime) ? endingOf(path) : undefined)
    if (!response.body || !ending) {
      await dropped(answered)
      throw this.nonsense(messages.sentWhereSoundWasExpected(mime.slice(0, 60) || 'nothing'))
    }
    const expected = Number(response.headers.get('content-length') ?? Number.NaN)
    if (expected > MAX_FILE_BYTES) {
      await dropped(answered)
      throw new SourceError(
        'too-large',
        messages.announcedFileGbMoreThan(this.libraryName, (expected / 1e9).toFixed(1)),
      )
    }
    const reopen = (headers: Readonly<Record<string, string>>) =>
      this.request(path, { ...init, headers: { ...init.headers, ...headers } }, { beginMs })
    const options = { libraryName: this.libraryName, idleMs: this.idleMs, reopen }
    return { body: resumableBody(answered, options), mime, ending }
  }

  private get idleMs(): number {
    return this.httpPolicy.idleMs ?? TIMEOUT_MS
  }

  /** Whether an address is on the library's own host, so that what signs us in may be sent there. */
  isOwn(path: string): boolean {
    return new URL(path, this.base).host === this.base.host
  }

  private async request(
    path: string | URL,
    init: RequestInit & { signal: AbortSignal },
    { redirects = 0, beginMs = this.idleMs }: { readonly redirects?: number; readonly beginMs?: number } = {},
  ): Promise<Answered> {
    const url = new URL(path, this.base)
    const allowedHosts = new Set([this.base.host, ...this.downloadHosts])
    const isAllowed = allowedHosts.has(url.host) && url.protocol === this.base.protocol
    // A name that is not allowed is not even looked up.
    if (isAllowed || net.isIP(url.hostname.replace(/^\[|\]$/g, '')) > 0)
      await requirePublicAddress(url, { libraryName: this.libraryName, allowedHosts })
    if (!isAllowed)
      throw new SourceError(
        'refused',
        `${this.libraryName} pointed to another address (${url.host}); it was not followed.`,
      )
    for (let attempt = 1; ; attempt++) {
      const last = attempt === TRIES
      const answered = await this.attempt(url, init, { last, beginMs })
      const next = answered && redirects < REDIRECTS_MAX ? redirectOf(answered.response, url, init) : null
      if (answered && next) {
        await dropped(answered)
        // What signs us in at one host is not told to another.
        const asked = next.host === url.host ? init : { ...init, headers: {} }
        return this.request(next, asked, { redirects: redirects + 1, beginMs })
      }
      if (answered && (last || !isPassing(answered.response.status)))
        return this.acceptResponse(answered, new Headers(init.headers).has('If-None-Match'))
      if (answered) await dropped(answered)
      await pause(this.waitMs(attempt, answered?.response ?? null), init.signal)
    }
  }

  /** How long to wait: as long as the library says, else longer each time, by chance so that not all come back at once. */
  private waitMs(attempt: number, response: Response | null): number {
    const { backoffMs, chance } = this.httpPolicy
    const asked = retryAfterS(response?.headers.get('retry-after') ?? '')
    if (Number.isFinite(asked)) return Math.min(WAIT_MAX_S, Math.max(0, asked)) * 1000
    return Math.min(WAIT_MAX_S * 1000, backoffMs * 2 ** (attempt - 1)) * (0.5 + chance() / 2)
  }

  /** One try. @returns null when it failed on the way and may be tried again. @throws {SourceError} on the last. */
  private async attempt(
    url: URL,
    init: RequestInit & { signal: AbortSignal },
    { last, beginMs }: { readonly last: boolean; readonly beginMs: number },
  ): Promise<Answered | null> {
    const exchange = new Exchange(init.signal)
    const ask = () => {
      exchange.expectWithin(beginMs)
      return outboundFetch(url, { ...init, redirect: 'manual', signal: exchange.signal })
    }
    try {
      const response = await this.queue.add(ask, { signal: init.signal })
      exchange.expectWithin(this.idleMs)
      return { response, exchange }
    } catch (cause) {
      exchange.end()
      if (init.signal.aborted) throw cause
      if (!last && !exchange.isStalled) return null
      const why = exchange.isStalled ? messages.didNotAnswerWithinS(beginMs / 1000) : messages.cannotBeReached
      throw new SourceError('down', messages.tryAgainInWhileNothing(this.libraryName, why), {
        cause,
      })
    }
  }

  private async acceptResponse(answered: Answered, isConditional: boolean): Promise<Answered> {
    // Nothing but what it was asked to compare can be unchanged.
    if (answered.response.ok || (answered.response.status === 304 && isConditional)) return answered
    await dropped(answered)
    const { status } = answered.response
    if (status >= 300 && status < 400)
      throw new SourceError('refused', messages.sentUsOnAnotherAddress(this.libraryName))
    if (status === 402) throw new SourceError('refused', messages.saysThatPlanHasEnded(this.libraryName))
    if (status === 404 || status === 410) throw new SourceError('gone', messages.noLongerOffersThis(this.libraryName))
    if (status === 401 || status === 403)
      throw new SourceError('refused', `${this.libraryName} refused the sign-in. Check the account there.`)
    if (status === 429) throw new SourceError('busy', messages.asksWaitBeforeNextRequest(this.libraryName))
    throw new SourceError('down', `${this.libraryName} answered with an error (${status}). Try again in a while.`)
  }

  private async readBoundedText(answered: Answered): Promise<string> {
    const chunks: Uint8Array[] = []
    const endsMs = performance.now() + JSON_MAX_MS
    let size = 0
    try {
      for await (const chunk of readPieces(answered, this.idleMs)) {
        size += chunk.length
        if (size > MAX_JSON_BYTES) throw new SourceError('too-large', messages.sentFarTooLongAnswer(this.libraryName))
        if (performance.now() > endsMs) throw new SourceError('down', messages.tookTooLongOverAnswer(this.libraryName))
        chunks.push(chunk)
      }
    } catch (cause) {
      if (cause instanceof SourceError || (cause instanceof Error && cause.name === 'AbortError')) throw cause
      throw new SourceError('down', messages.brokeOffInMiddleAnswer(this.libraryName), { cause })
    }
    return Buffer.concat(chunks).toString('utf8')
  }

  private nonsense(what: string, cause?: unknown): SourceError {
    return notUnderstood(this.libraryName, what, cause)
  }
}

/** Where a request that reads is sent on to; null where it is not. */
function redirectOf(response: Response, from: URL, { method = 'GET' }: RequestInit): URL | null {
  const location = response.headers.get('location')
  if (method !== 'GET' || location === null || ![301, 302, 303, 307, 308].includes(response.status)) return null
  return URL.canParse(location, from) ? new URL(location, from) : null
}

/** Seconds that a library asks to wait: a number, or a date (RFC 9110); NaN where it is neither. */
function retryAfterS(text: string): number {
  if (/^\d{1,9}$/.test(text.trim())) return Number(text)
  return (Date.parse(text) - Date.now()) / 1000
}

function endingOf(address: string): string | undefined {
  const ending = /\.([a-z0-9]{2,4})(?:$|[?#])/i.exec(address)?.[1]?.toLowerCase()
  return ending !== undefined && KNOWN_ENDINGS.has(ending) ? ending : undefined
}

/** Answers that may be another one in a moment. */
function isPassing(status: number): boolean {
  return status === 425 || status === 429 || status >= 500
}

function pause(ms: number, signal: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const timer = setTimeout(done, ms)
    function done(): void {
      signal.removeEventListener('abort', abort)
      resolve()
    }
    function abort(): void {
      clearTimeout(timer)
      reject(signal.reason)
    }
    signal.addEventListener('abort', abort, { once: true })
  })
}
