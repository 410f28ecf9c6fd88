import { expect } from 'vitest'
import type { z } from 'zod'

export type Module = Partial<Record<'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE', unknown>>
type Handler = (context: object) => Promise<Response>

export interface Call {
  readonly params?: Record<string, string>
  readonly query?: string
  readonly body?: unknown
  readonly raw?: Uint8Array | string
  readonly headers?: Record<string, string>
  readonly signal?: AbortSignal
}

/** Calls an endpoint as the server does. */
export function call(module: Module, method: keyof Module, options: Call = {}): Promise<Response> {
  const url = new URL(`http://localhost/api/x${options.query ?? ''}`)
  const body = options.raw ?? (options.body === undefined ? undefined : JSON.stringify(options.body))
  const request = new Request(url, {
    method,
    ...(body === undefined ? {} : { body: body as BodyInit }),
    ...(options.headers ? { headers: options.headers } : {}),
    ...(options.signal ? { signal: options.signal } : {}),
  })
  return (module[method] as Handler)({ request, url, params: options.params ?? {} })
}

/** Calls and reads the answer by its contract. */
export async function value<T>(schema: z.ZodType<T>, ...args: Parameters<typeof call>): Promise<T> {
  const response = await call(...args)
  expect(response.status, await (response.status >= 300 ? response.clone().text() : '')).toBeLessThan(300)
  return schema.parse(await response.json())
}

/** Makes endpoints work on an application, as if it were the one of this process. */
export function serveApp(app: unknown): void {
  ;(globalThis as Record<symbol, unknown>)[Symbol.for('good-thud.app')] = Promise.resolve(app)
}

/** Asks again, as the pages do, until the answer knows every change. */
export async function knowing<T extends { behindMs: number | null }>(ask: () => Promise<T>): Promise<T> {
  for (;;) {
    const answer = await ask()
    if (answer.behindMs === null) return answer
    await new Promise((resolve) => setTimeout(resolve, answer.behindMs ?? 0))
  }
}
