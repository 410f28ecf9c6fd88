import http from 'node:http'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { z } from 'zod'
import { requirePublicAddress } from '../../src/server/sources/address-guard'
import { SourceHttp } from '../../src/server/sources/source-http'

const Answer = z.object({ asked: z.number() })
const signal = new AbortController().signal
let server: http.Server
let base = ''
/** What the next requests are answered with; after them, 200. */
let statuses: number[] = []
let retryAfter: string | null = null
let asked = 0
let atOnce = 0
let mostAtOnce = 0

beforeAll(async () => {
  server = http.createServer((_request, response) => {
    asked++
    atOnce++
    mostAtOnce = Math.max(mostAtOnce, atOnce)
    setImmediate(() => {
      atOnce--
      const status = statuses.shift() ?? 200
      response.writeHead(status, {
        'Content-Type': 'application/json',
        ...(retryAfter && status === 429 ? { 'Retry-After': retryAfter } : {}),
      })
      response.end(JSON.stringify({ asked }))
    })
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  base = `http://127.0.0.1:${(server.address() as { port: number }).port}`
})
afterAll(() => {
  server.closeAllConnections()
  server.close()
})

function library(more: Partial<{ backoffMs: number; chance: () => number; requestsPerS: number }> = {}): SourceHttp {
  return new SourceHttp('Test library', base, { backoffMs: 1, requestsPerS: 10_000, chance: () => 0, ...more })
}

async function tried(answers: number[]): Promise<number> {
  statuses = [...answers]
  asked = 0
  await library()
    .json('/x', Answer, { signal })
    .catch(() => null)
  return asked
}

describe('a library that fails', () => {
  it.each([
    [[], 1],
    [[500], 2],
    [[500, 503, 425], 4],
    [[500, 500, 500, 500, 500], 4],
    [[429, 429], 3],
    // These will not be better in a moment.
    [[404], 1],
    [[401], 1],
    [[402], 1],
    [[302], 1],
  ])('with %j is asked %i times', async (answers, times) => {
    expect(await tried(answers)).toBe(times)
  })

  it.each([
    [404, 'gone'],
    [410, 'gone'],
    [401, 'refused'],
    [403, 'refused'],
    [402, 'refused'],
    [301, 'refused'],
    [429, 'busy'],
    [500, 'down'],
  ])('with %i for good is %s', async (status, code) => {
    statuses = Array.from({ length: 4 }, () => status)
    await expect(library().json('/x', Answer, { signal })).rejects.toMatchObject({ name: 'SourceError', code })
    statuses = []
  })

  it('is waited for longer each time, by chance', async () => {
    const draws: number[] = []
    const chance = (): number => {
      draws.push(draws.length)
      return 0.5
    }
    statuses = [500, 500, 500]
    await library({ chance }).json('/x', Answer, { signal })
    expect(draws).toHaveLength(3)
  })

  it('that names a time is not waited for by chance', async () => {
    retryAfter = '0'
    statuses = [429]
    const chance = (): number => {
      throw new Error('chance was asked')
    }
    expect(await library({ chance }).json('/x', Answer, { signal })).toEqual({ asked: expect.any(Number) })
    retryAfter = null
  })

  it('is left at once when the work is stopped while it is waited for', async () => {
    statuses = [500]
    const controller = new AbortController()
    const waiting = library({ backoffMs: 1e9, chance: () => 1 }).json('/x', Answer, { signal: controller.signal })
    setTimeout(() => controller.abort(), 30)
    await expect(waiting).rejects.toThrow()
    statuses = []
  })
})

it('no more than four requests are under way at once', async () => {
  mostAtOnce = 0
  const one = library()
  await Promise.all(Array.from({ length: 24 }, () => one.json('/x', Answer, { signal })))
  expect(mostAtOnce).toBeGreaterThan(1)
  expect(mostAtOnce).toBeLessThanOrEqual(4)
})

describe('an address', () => {
  const refuse = (address: string): Promise<void> =>
    requirePublicAddress(new URL(address), { libraryName: 'Test', allowedHosts: new Set(['127.0.0.1:4811']) })

  it('that was set up by hand is allowed, on that port only', async () => {
    await expect(refuse('http://127.0.0.1:4811/x')).resolves.toBeUndefined()
    await expect(refuse('http://127.0.0.1:4812/x')).rejects.toMatchObject({ code: 'refused' })
  })

  it.each(['http://[::1]/x', 'http://localhost/x', 'http://192.168.0.1/x', 'ftp://8.8.8.8/x', 'file:///etc/passwd'])(
    '%s is refused',
    async (address) => {
      await expect(refuse(address)).rejects.toMatchObject({ code: 'refused' })
    },
  )

  it('in the open is allowed', async () => {
    await expect(refuse('https://8.8.8.8/x')).resolves.toBeUndefined()
  })
})
