import type { z } from 'zod'
import { Problem } from '../../contract'
import { messages } from '../../messages'

/** A request that failed; the message is a sentence for people. */
export class RequestError extends Error {
  override readonly name = 'RequestError'
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message)
  }
}

const UNREACHABLE = messages.shared.goodThudDoesNotAnswer

const TAB_VIDEO = 'video-in-hand'

/** Which video this tab has in hand: two tabs can have two. @param id Null for none. */
export function rememberVideoInHand(id: number | null): void {
  sessionStorage.setItem(TAB_VIDEO, id === null ? 'none' : String(id))
}

/** The header that tells the application of it; none in a tab that does not know yet. */
function videoHeader(): Record<string, string> {
  const named = typeof sessionStorage === 'undefined' ? null : sessionStorage.getItem(TAB_VIDEO)
  return named === null ? {} : { 'X-Video-In-Hand': named }
}

/** Asks the application for JSON of a known shape. @throws {RequestError} */
export async function ask<T>(path: string, schema: z.ZodType<T>, init: RequestInit = {}): Promise<T> {
  let response: Response
  try {
    response = await fetch(path, { ...init, headers: { ...videoHeader(), ...init.headers } })
  } catch (error) {
    if (init.signal?.aborted) throw error
    throw new RequestError('unreachable', UNREACHABLE)
  }
  const data: unknown = await response.json().catch(() => null)
  if (!response.ok) throw problemError(data)
  const parsed = schema.safeParse(data)
  if (!parsed.success) throw new RequestError('bad-answer', messages.shared.theAnswerCouldNotBe)
  return parsed.data
}

/** Sends JSON. @throws {RequestError} */
export function send<T>(
  method: 'POST' | 'PUT' | 'PATCH' | 'DELETE',
  path: string,
  schema: z.ZodType<T>,
  body?: unknown,
): Promise<T> {
  return ask(path, schema, {
    method,
    headers: { 'Content-Type': 'application/json' },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  })
}

/** Sends a file as it is, with progress. @throws {RequestError} also when it is aborted (code "aborted"). */
export function sendFile<T>(
  path: string,
  file: File,
  schema: z.ZodType<T>,
  options: { readonly onProgress: (fraction: number) => void; readonly signal: AbortSignal },
): Promise<T> {
  return new Promise((resolve, reject) => {
    // XMLHttpRequest, since fetch does not tell how much of a body is sent.
    const request = new XMLHttpRequest()
    request.open('PUT', path)
    request.setRequestHeader('Content-Type', 'application/octet-stream')
    request.upload.onprogress = (event) => options.onProgress(event.total > 0 ? event.loaded / event.total : 0)
    request.onload = () => {
      const data = parsedJson(request.responseText)
      if (request.status >= 400) return reject(problemError(data))
      const parsed = schema.safeParse(data)
      if (parsed.success) resolve(parsed.data)
      else reject(new RequestError('bad-answer', messages.shared.theAnswerCouldNotBe))
    }
    request.onerror = () => reject(new RequestError('unreachable', messages.shared.theUploadBrokeOffNothing))
    request.onabort = () => reject(new RequestError('aborted', messages.shared.theUploadWasStopped))
    options.signal.addEventListener('abort', () => request.abort(), { once: true })
    request.send(file)
  })
}

function parsedJson(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return null
  }
}

function problemError(data: unknown): RequestError {
  const problem = Problem.safeParse(data)
  return problem.success
    ? new RequestError(problem.data.code, problem.data.detail)
    : new RequestError('unknown', messages.shared.somethingWentWrongTryAgain)
}
