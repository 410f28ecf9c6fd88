import { createHash } from 'node:crypto'
import http from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { z } from 'zod'
import { SourceHttp } from './source-http'

const FILE = Buffer.from(Array.from({ length: 5000 }, (_, index) => index % 251))
const IDLE_MS = 500

type Handler = (request: http.IncomingMessage, response: http.ServerResponse) => void

let server: http.Server
let handle: Handler
let asked: http.IncomingMessage[]
let library: SourceHttp
const never = new AbortController().signal

beforeEach(async () => {
  asked = []
  server = http.createServer((request, response) => {
    asked.push(request)
    handle(request, response)
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  const { port } = server.address() as AddressInfo
  const policy = { backoffMs: 1, requestsPerS: 1000, chance: () => 0.5, idleMs: IDLE_MS }
  library = new SourceHttp('A library', `http://127.0.0.1:${port}`, policy)
})
afterEach(() => {
  server.closeAllConnections()
  server.close()
})

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms))

async function fetched(signal: AbortSignal = never): Promise<Buffer> {
  const { body } = await library.file('/a', { signal })
  const pieces: Buffer[] = []
  for await (const piece of body as AsyncIterable<Buffer>) pieces.push(piece)
  return Buffer.concat(pieces)
}

const HEAD = { 'Content-Type': 'audio/wav', 'Content-Length': String(FILE.length), ETag: '"one"' }

/** Serves the file, but breaks off after some bytes; asked for a part, it serves that. */
function breakingOff(
  afterBytes: number,
  more: Record<string, string> = {},
  parts: Record<string, string> = {},
): Handler {
  return (request, response) => {
    const from = Number(/^bytes=(\d+)-$/.exec(request.headers.range ?? '')?.[1] ?? 0)
    if (from === 0) {
      response.writeHead(200, { ...HEAD, ...more })
      response.write(FILE.subarray(0, afterBytes))
      setTimeout(() => response.destroy(), 20)
      return
    }
    response.writeHead(206, {
      ...HEAD,
      ...more,
      'Content-Length': String(FILE.length - from),
      'Content-Range': `bytes ${from}-${FILE.length - 1}/${FILE.length}`,
      ...parts,
    })
    response.end(FILE.subarray(from))
  }
}

describe('a file', () => {
  it('may take longer than the time for an answer, as long as something comes', { tags: 'long' }, async () => {
    handle = async (_request, response) => {
      response.writeHead(200, HEAD)
      for (let at = 0; at < FILE.length; at += 1000) {
        response.write(FILE.subarray(at, at + 1000))
        await wait(IDLE_MS / 2)
      }
      response.end()
    }
    const began = performance.now()
    expect((await fetched()).equals(FILE)).toBe(true)
    expect(performance.now() - began).toBeGreaterThan(IDLE_MS)
    expect(asked).toHaveLength(1)
  })

  it('that breaks off is gone on with where it broke off, if it is still the same', async () => {
    handle = breakingOff(1234)
    expect((await fetched()).equals(FILE)).toBe(true)
    expect(asked.map(({ headers }) => [headers.range, headers['if-range']])).toEqual([
      [undefined, undefined],
      ['bytes=1234-', '"one"'],
    ])
  })

  it('that stalls is gone on with in the same way', async () => {
    const whole = breakingOff(1000)
    handle = (request, response) => {
      if (request.headers.range) return whole(request, response)
      response.writeHead(200, HEAD)
      response.write(FILE.subarray(0, 1000))
    }
    expect((await fetched()).equals(FILE)).toBe(true)
  })

  it.each<[string, Handler]>([
    [
      'it has changed',
      (request, response) =>
        request.headers.range ? response.writeHead(200, HEAD).end(FILE) : breakingOff(900)(request, response),
    ],
    ['the part is another one', breakingOff(900, {}, { 'Content-Range': `bytes 0-${FILE.length - 1}/${FILE.length}` })],
    ['the part is of a longer file', breakingOff(900, {}, { 'Content-Range': `bytes 900-${FILE.length - 1}/9999` })],
    ['its tag is a weak one', breakingOff(900, { ETag: 'W/"one"' })],
    [
      'it breaks off again and again',
      (_request, response) => {
        response.writeHead(200, HEAD)
        response.flushHeaders()
        setTimeout(() => response.destroy(), 20)
      },
    ],
  ])('is not taken for whole where %s', async (_, serve) => {
    handle = serve
    await expect(fetched()).rejects.toMatchObject({ name: 'SourceError', code: 'down' })
  })

  it('is compared with the hash that the library tells of it', async () => {
    const digestOf = (bytes: Buffer) => `sha-256=:${createHash('sha256').update(bytes).digest('base64')}:`
    handle = breakingOff(700, { 'Repr-Digest': digestOf(FILE) })
    expect((await fetched()).equals(FILE)).toBe(true)
    handle = breakingOff(700, { 'Repr-Digest': digestOf(Buffer.from('another')) })
    await expect(fetched()).rejects.toMatchObject({ code: 'nonsense' })
  })

  it('ends with the signal of whoever wants it', async () => {
    const controller = new AbortController()
    handle = (_request, response) => {
      response.writeHead(200, HEAD)
      response.write(FILE.subarray(0, 10), () => controller.abort())
    }
    const fetching = fetched(controller.signal)
    await expect(fetching).rejects.toMatchObject({ name: 'AbortError' })
    expect(asked).toHaveLength(1)
  })
})

describe('a file that was ordered', () => {
  it('may be made only then: it is waited for longer than another, but not for ever', { tags: 'long' }, async () => {
    handle = (_request, response) => setTimeout(() => response.writeHead(200, HEAD).end(FILE), 1.6 * IDLE_MS)
    const { body } = await library.ordered('/a', { signal: never })
    expect(Buffer.concat(await body.toArray())).toEqual(FILE)
    await expect(library.file('/a', { signal: never })).rejects.toMatchObject({ code: 'down' })
    handle = () => {}
    await expect(library.ordered('/a', { signal: never })).rejects.toMatchObject({
      message: expect.stringContaining('did not answer within'),
    })
  })
})

describe('an answer', () => {
  const shape = z.object({ ok: z.boolean() })

  it('that does not begin, or stops in the middle, is not waited for', { tags: 'long' }, async () => {
    handle = () => {}
    await expect(library.json('/x', shape, { signal: never })).rejects.toMatchObject({
      code: 'down',
      message: expect.stringContaining('did not answer within'),
    })
    handle = (_request, response) => {
      response.writeHead(200, { 'Content-Type': 'application/json' })
      response.write('{"ok":')
    }
    await expect(library.json('/x', shape, { signal: never })).rejects.toMatchObject({
      code: 'down',
      message: expect.stringContaining('broke off'),
    })
  })

  it('that comes is read', async () => {
    handle = (_request, response) => response.end('{"ok":true}')
    expect(await library.json('/x', shape, { signal: never })).toEqual({ ok: true })
  })
})

describe('an answer with a tag', () => {
  const Shape = z.object({ n: z.number() })
  const ask = () => library.json('/terms', Shape, { signal: never })
  /** Serves a number under its tag, and only its tag to who has it. */
  const serving =
    (number: () => number): Handler =>
    (request, response) => {
      const tag = `"${number()}"`
      response.setHeader('ETag', tag)
      if (request.headers['if-none-match'] === tag) response.writeHead(304).end()
      else response.end(JSON.stringify({ n: number() }))
    }

  it('is not sent twice while it is the same, and is taken when it changed', async () => {
    let number = 1
    handle = serving(() => number)
    expect([await ask(), await ask()]).toEqual([{ n: 1 }, { n: 1 }])
    number = 2
    expect([await ask(), await ask()]).toEqual([{ n: 2 }, { n: 2 }])
    expect(asked.map(({ headers }) => headers['if-none-match'])).toEqual([undefined, '"1"', '"1"', '"2"'])
  })

  it('is not taken for another address, and not asked for with what is sent', async () => {
    handle = serving(() => 7)
    await ask()
    await library.json('/other', Shape, { signal: never })
    await library.json('/terms', Shape, { method: 'POST', body: '{}', signal: never })
    expect(asked.map(({ headers }) => headers['if-none-match'])).toEqual([undefined, undefined, undefined])
  })

  it('that is said to be unchanged by who was not asked is no answer', async () => {
    handle = (_, response) => response.writeHead(304).end()
    await expect(ask()).rejects.toMatchObject({ code: 'refused' })
  })

  it('is forgotten when the next one has no tag, and when there are too many', async () => {
    handle = serving(() => 1)
    await ask()
    handle = (_, response) => response.end('{"n":3}')
    expect(await ask()).toEqual({ n: 3 })
    handle = serving(() => 1)
    await ask()
    expect(asked.at(-1)?.headers['if-none-match']).toBeUndefined()
    const long = 'x'.repeat(400_000)
    handle = (_, response) => response.setHeader('ETag', '"a"').end(JSON.stringify({ n: 1, long }))
    for (let at = 0; at < 12; at++) await library.json(`/long/${at}`, z.unknown(), { signal: never })
    await ask()
    expect(asked.at(-1)?.headers['if-none-match']).toBeUndefined()
    await library.json('/long/11', z.unknown(), { signal: never })
    expect(asked.at(-1)?.headers['if-none-match']).toBe('"a"')
  })
})
