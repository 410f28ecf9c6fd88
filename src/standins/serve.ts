import fs from 'node:fs'
import http from 'node:http'
import path from 'node:path'

/** How a stand-in misbehaves, told through its control address. */
export type Fault =
  | 'none'
  | 'error'
  | 'garbage'
  | 'half-body'
  | 'busy'
  | 'html-titles'
  | 'slow'
  /** A file of which 10 GB are announced. */
  | 'huge'
  /** Every answer sends on to another host. */
  | 'redirect'
  /** Addresses of files lie in a private network. */
  | 'private-link'
  /** Titles that turn the direction of writing, and addresses that are scripts. */
  | 'turning-names'
  /** Names of files climb out of their folder. */
  | 'climbing-names'
  /** A shop that asks in another currency. */
  | 'other-currency'
  /** A shop that charges more than it asked. */
  | 'overcharges'
  /** A shop that has no receipts to give. */
  | 'no-receipt'
  /** What is handed out as a bought sound is none. */
  | 'broken-audio'
  /** A shop that takes an order and then breaks off. */
  | 'order-unanswered'
  /** A shop that takes no order. */
  | 'order-refused'

/** What a stand-in can be told. */
export interface Control {
  fault: Fault
  /** Seconds in Retry-After while it is busy. */
  retryAfterS: number
  /** How many requests still fail; null for all. */
  faultsLeft: number | null
  /** Moves the end of the plan, for the subscription library. */
  planUntil: string | null
  /** Number of the terms version that is served. */
  edition: number
  /** Ids of sounds that were taken out of the catalogue. */
  withdrawn: string[]
  /** Words that stand below the text of each licence. */
  addendum: string
}

/** A stand-in that behaves. */
export function wellBehaved(edition: number, planUntil: string | null = null): Control {
  return { fault: 'none', retryAfterS: 0, faultsLeft: null, planUntil, edition, withdrawn: [], addendum: '' }
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
  readonly file?: { readonly path: string | Promise<string>; readonly mime: string }
  readonly bytes?: { readonly content: Buffer; readonly mime: string }
  readonly headers?: Readonly<Record<string, string>>
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
  readonly kind?: 'effect' | 'ambience' | 'music'
  readonly tempoBpm?: number
  readonly mood?: string
  readonly vocals?: boolean
  /** How often it was taken, where the library tells. */
  readonly taken?: number
  /** Where it is a take of another sound: its id, what it is of it, and what it is called. */
  readonly of?: { readonly id: string; readonly is: 'stem' | 'piece' | 'edit'; readonly called: string }
}

export interface Standin {
  readonly url: string
  readonly control: Control
  /** Called after it was told something. */
  onControl?: () => void
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

/** Where the files of a library lie. */
export interface LibraryFiles {
  /** Folder of its catalogue and previews, and of the originals, unless they are made. */
  readonly dir: string
  /** Gives the path of an original that may have to be made first. */
  readonly original?: (sound: LibrarySound) => Promise<string>
}

/** Reads the catalogue of a library. */
export function libraryOf({ dir }: LibraryFiles): LibrarySound[] {
  return JSON.parse(fs.readFileSync(path.join(dir, 'catalogue.json'), 'utf8')) as LibrarySound[]
}

/** A file of a library, as an answer. */
export function soundFile(files: LibraryFiles, sound: LibrarySound, kind: 'original' | 'preview'): StandinAnswer {
  if (kind === 'original' && files.original)
    return { file: { path: files.original(sound), mime: MIMES[sound.format] ?? '' } }
  const ending = kind === 'preview' ? 'preview.ogg' : sound.format
  return {
    file: {
      path: path.join(files.dir, `${sound.id}.${ending}`),
      mime: MIMES[kind === 'preview' ? 'ogg' : sound.format] ?? '',
    },
  }
}

/** Serves a stand-in on loopback. @param port 0 for any free one. */
export async function serveStandin(
  port: number,
  control: Control,
  handle: (request: StandinRequest) => StandinAnswer | Promise<StandinAnswer>,
): Promise<Standin> {
  const server = http.createServer((request, response) => {
    void answer(request, response, control, handle)
      .then((told) => told && standin.onControl?.())
      .catch(() => response.destroy())
  })
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject)
    server.listen(port, '127.0.0.1', resolve)
  })
  const address = server.address() as { port: number }
  const standin: Standin = {
    url: `http://127.0.0.1:${address.port}`,
    control,
    close: () =>
      new Promise((resolve) => {
        server.close(() => resolve())
        server.closeAllConnections()
      }),
  }
  return standin
}

async function answer(
  request: http.IncomingMessage,
  response: http.ServerResponse,
  control: Control,
  handle: (request: StandinRequest) => StandinAnswer | Promise<StandinAnswer>,
): Promise<boolean> {
  const url = new URL(request.url ?? '/', 'http://127.0.0.1')
  const body = await bodyOf(request)
  if (url.pathname === '/control') {
    const told = request.method === 'POST'
    if (told) Object.assign(control, JSON.parse(body) as Partial<Control>)
    sendJson(response, 200, control)
    return told
  }
  const fault = takenFault(control)
  if (fault === 'slow') await new Promise((resolve) => setTimeout(resolve, SLOW_MS))
  if (fault === 'busy') response.setHeader('Retry-After', String(control.retryAfterS))
  if (fault === 'redirect') response.setHeader('Location', 'http://elsewhere.example/')
  const refusal = REFUSALS[fault]
  if (refusal) {
    sendJson(response, refusal, { message: fault })
  } else if (fault === 'garbage') {
    response.writeHead(200, { 'Content-Type': 'application/json' })
    response.end('<!doctype html><title>Maintenance</title>')
  } else {
    const { method = 'GET', headers } = request
    const { status = 200, json, file, bytes, headers: told = {} } = await handle({ method, url, headers, body })
    for (const [name, value] of Object.entries(told)) response.setHeader(name, value)
    if (file) sendFile(response, fs.readFileSync(await file.path), file.mime, fault)
    else if (bytes) sendFile(response, bytes.content, bytes.mime, fault)
    else sendJson(response, status, twisted(json, fault))
  }
  return false
}

const REFUSALS: Partial<Record<Fault, number>> = { error: 500, busy: 429, redirect: 302 }

/** The fault of this request; a fault that is to happen a number of times wears off. */
function takenFault(control: Control): Fault {
  const { fault } = control
  if (fault === 'none' || control.faultsLeft === null) return fault
  if (control.faultsLeft <= 0) {
    control.fault = 'none'
    control.faultsLeft = null
    return 'none'
  }
  control.faultsLeft--
  return fault
}

function sendJson(response: http.ServerResponse, status: number, json: unknown): void {
  response.writeHead(status, { 'Content-Type': 'application/json' })
  response.end(JSON.stringify(json))
}

const HUGE_BYTES = 10_000_000_000

function sendFile(response: http.ServerResponse, bytes: Buffer, mime: string, fault: Fault): void {
  const size = fault === 'huge' ? HUGE_BYTES : bytes.length
  response.writeHead(200, { 'Content-Type': mime, 'Content-Length': String(size) })
  if (fault === 'half-body') {
    response.write(bytes.subarray(0, bytes.length >> 1), () => response.destroy())
    return
  }
  if (fault === 'huge') response.write(bytes)
  else response.end(bytes)
}

const TITLES = new Set(['name', 'title', 'Label', 'displayName'])
const LINKS = new Set(['href', 'Download', 'audioUrl', 'fullUrl'])
const FILE_NAMES = new Set(['file_name', 'FileName', 'fileName'])

/** Puts markup into titles, private addresses into links, or climbing paths into file names, as a careless library might. */
function twisted(json: unknown, fault: Fault): unknown {
  const twist = (key: string, value: string): string => {
    if (fault === 'html-titles' && TITLES.has(key)) return `<img src=x onerror="document.title='owned'"><b>${value}</b>`
    if (fault === 'turning-names' && TITLES.has(key)) return `${value}\u202evaw`
    if (fault === 'turning-names' && key === 'permalink') return 'javascript:alert(1)'
    if (fault === 'private-link' && LINKS.has(key)) return `http://10.0.0.7${value}`
    return fault === 'climbing-names' && FILE_NAMES.has(key) ? `../../../etc/${value}` : value
  }
  return JSON.parse(JSON.stringify(json ?? {}), (key, value) => (typeof value === 'string' ? twist(key, value) : value))
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
