import fs from 'node:fs'
import http from 'node:http'
import path from 'node:path'

/** How a stand-in misbehaves, told through its control address. */
export type Fault = 'none' | 'error' | 'garbage' | 'half-body' | 'busy' | 'html-titles' | 'slow'

/** What a stand-in can be told. */
export interface Control {
  fault: Fault
  /** Moves the end of the plan, for the subscription library. */
  planUntil: string | null
}

export interface StandinRequest {
  readonly method: string
  readonly url: URL
  readonly headers: http.IncomingHttpHeaders
  readonly body: string
}

export interface StandinAnswer {
  readonly status?: number
  readonly json?: unknown
  readonly file?: { readonly path: string; readonly mime: string }
}

/** One sound as the library's folder lists it. */
export interface LibrarySound {
  readonly id: string
  readonly title: string
  readonly maker: string
  readonly category: string
  readonly licence: string
  readonly format: string
  readonly tags: string
  readonly durationS: number
}

export interface Standin {
  readonly url: string
  readonly control: Control
  close(): Promise<void>
}

const MAX_BODY_BYTES = 64 * 1024
const SLOW_MS = 2_000
const MIMES: Readonly<Record<string, string>> = {
  wav: 'audio/wav',
  flac: 'audio/flac',
  mp3: 'audio/mpeg',
  ogg: 'audio/ogg',
}

/** Reads the catalogue of a library's folder. */
export function libraryOf(dir: string): LibrarySound[] {
  return JSON.parse(fs.readFileSync(path.join(dir, 'catalogue.json'), 'utf8')) as LibrarySound[]
}

/** A file of the library's folder, as an answer. */
export function soundFile(dir: string, sound: LibrarySound, kind: 'original' | 'preview'): StandinAnswer {
  const ending = kind === 'preview' ? 'preview.ogg' : sound.format
  return {
    file: {
      path: path.join(dir, `${sound.id}.${ending}`),
      mime: MIMES[kind === 'preview' ? 'ogg' : sound.format] ?? '',
    },
  }
}

/** Serves a stand-in on loopback. @param port 0 for any free one. */
export async function serveStandin(
  port: number,
  control: Control,
  handle: (request: StandinRequest) => StandinAnswer,
): Promise<Standin> {
  const server = http.createServer((request, response) => {
    void answer(request, response, control, handle).catch(() => response.destroy())
  })
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject)
    server.listen(port, '127.0.0.1', resolve)
  })
  const address = server.address() as { port: number }
  return {
    url: `http://127.0.0.1:${address.port}`,
    control,
    close: () =>
      new Promise((resolve) => {
        server.close(() => resolve())
        server.closeAllConnections()
      }),
  }
}

async function answer(
  request: http.IncomingMessage,
  response: http.ServerResponse,
  control: Control,
  handle: (request: StandinRequest) => StandinAnswer,
): Promise<void> {
  const url = new URL(request.url ?? '/', 'http://127.0.0.1')
  const body = await bodyOf(request)
  if (url.pathname === '/control' && request.method === 'POST') {
    Object.assign(control, JSON.parse(body) as Partial<Control>)
    return sendJson(response, 200, control)
  }
  if (control.fault === 'slow') await new Promise((resolve) => setTimeout(resolve, SLOW_MS))
  if (control.fault === 'error') return sendJson(response, 500, { message: 'internal' })
  if (control.fault === 'busy') {
    response.setHeader('Retry-After', '0')
    return sendJson(response, 429, { message: 'slow down' })
  }
  if (control.fault === 'garbage') {
    response.writeHead(200, { 'Content-Type': 'application/json' })
    response.end('<!doctype html><title>Maintenance</title>')
    return
  }
  const { status = 200, json, file } = handle({ method: request.method ?? 'GET', url, headers: request.headers, body })
  if (file) return sendFile(response, file, control)
  const shown = control.fault === 'html-titles' ? withHtml(json) : json
  sendJson(response, status, shown ?? {})
}

function sendJson(response: http.ServerResponse, status: number, json: unknown): void {
  response.writeHead(status, { 'Content-Type': 'application/json' })
  response.end(JSON.stringify(json))
}

function sendFile(response: http.ServerResponse, file: { path: string; mime: string }, control: Control): void {
  const bytes = fs.readFileSync(file.path)
  response.writeHead(200, { 'Content-Type': file.mime, 'Content-Length': String(bytes.length) })
  if (control.fault === 'half-body') {
    response.write(bytes.subarray(0, bytes.length >> 1), () => response.destroy())
    return
  }
  response.end(bytes)
}

/** Puts markup into every title, as a careless library might. */
function withHtml(json: unknown): unknown {
  return JSON.parse(JSON.stringify(json), (key, value) =>
    (key === 'name' || key === 'title') && typeof value === 'string'
      ? `<img src=x onerror="document.title='owned'"><b>${value}</b>`
      : value,
  )
}

async function bodyOf(request: http.IncomingMessage): Promise<string> {
  const chunks: Buffer[] = []
  let size = 0
  for await (const chunk of request as AsyncIterable<Buffer>) {
    size += chunk.length
    if (size > MAX_BODY_BYTES) throw new Error('body too large')
    chunks.push(chunk)
  }
  return Buffer.concat(chunks).toString('utf8')
}
