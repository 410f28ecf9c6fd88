import fs from 'node:fs'
import http from 'node:http'
import path from 'node:path'
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest'
import { BARN_SOUNDS, HERON_SOUNDS, makeLibraries, soundSamples, temporaryDir } from '../../../test/world'
import { readWav } from '../../core/formats/wav'
import { groundedClauses } from '../../core/rights'
import { serveHeronSlate } from '../../standins/heron-slate'
import type { Fault, Standin } from '../../standins/serve'
import { serveTinBarn } from '../../standins/tin-barn'
import type { CatalogueSound, Connector } from './connector'
import { heronSlate } from './heron-slate'
import { tinBarn } from './tin-barn'

const dir = temporaryDir('connectors')
const signal = new AbortController().signal
let nowMs = Date.parse('2026-06-15T12:00:00Z')
let standins: Record<string, Standin>
let connectors: Record<string, Connector>

beforeAll(async () => {
  await makeLibraries(dir)
  standins = {
    'tin-barn': await serveTinBarn(path.join(dir, 'tin-barn'), 0),
    'heron-slate': await serveHeronSlate(path.join(dir, 'heron-slate'), 0, () => nowMs),
  }
  connectors = {
    'tin-barn': tinBarn({ baseUrl: (standins['tin-barn'] as Standin).url, apiKey: 'small-hours-key' }),
    'heron-slate': heronSlate({
      baseUrl: (standins['heron-slate'] as Standin).url,
      client: 'small-hours',
      secret: 'kettle-and-dome',
      nowMs: () => nowMs,
    }),
  }
})
afterAll(async () => {
  for (const standin of Object.values(standins)) await standin.close()
  fs.rmSync(dir, { recursive: true })
})
afterEach(() => {
  for (const { control } of Object.values(standins)) control.fault = 'none'
})

async function catalogue(connector: Connector): Promise<CatalogueSound[]> {
  const all: CatalogueSound[] = []
  for await (const page of connector.catalogue(signal)) all.push(...page)
  return all
}

async function bytesOf(body: AsyncIterable<Buffer>): Promise<Buffer> {
  const chunks: Buffer[] = []
  for await (const chunk of body) chunks.push(chunk)
  return Buffer.concat(chunks)
}

describe.each([
  ['tin-barn', BARN_SOUNDS],
  ['heron-slate', HERON_SOUNDS],
] as const)('the connector %s', (id, sounds) => {
  const connector = (): Connector => connectors[id] as Connector
  const fail = (fault: Fault): void => {
    ;(standins[id] as Standin).control.fault = fault
  }

  it('reads the whole catalogue over its pages, in our words and units', async () => {
    const all = await catalogue(connector())
    expect(all.map(({ externalId }) => externalId)).toEqual(sounds.map((sound) => sound.id))
    const [first] = all
    expect(first).toMatchObject({ title: sounds[0]?.title, maker: sounds[0]?.maker, category: sounds[0]?.category })
    expect(first?.tags).toEqual(sounds[0]?.tags.split(' '))
    expect(first?.durationS).toBeCloseTo(soundSamples(sounds[0]?.id ?? '').length / 48000, 2)
  })

  it('serves terms whose every reading stands in the text', async () => {
    for (const key of new Set((await catalogue(connector())).map(({ termsKey }) => termsKey))) {
      const served = await connector().terms(key, signal)
      const clauses = groundedClauses(served.text, served.readings)
      for (const reading of served.readings)
        expect(clauses.find((clause) => clause.key === reading.key)?.quote, `${key}: ${reading.key}`).not.toBeNull()
    }
  })

  it('hands out a preview and the original', async () => {
    const [first] = await catalogue(connector())
    const preview = await connector().preview(first?.previewRef ?? '', signal)
    expect(preview).toMatchObject({ mime: 'audio/ogg', ending: 'ogg' })
    expect((await bytesOf(preview.body)).subarray(0, 4).toString()).toBe('OggS')
    const order = await connector().order(first?.externalId ?? '', 'key-1', signal)
    expect(order.file.ending).toBe('wav')
    const audio = readWav(new Uint8Array(await bytesOf(order.file.body)))
    expect(audio.channels[0]?.length).toBe(soundSamples(first?.externalId ?? '').length)
  })

  it('gives the same order for the same key', async () => {
    const order = async (key: string): Promise<string> => {
      const { ref, file } = await connector().order(sounds[1]?.id ?? '', key, signal)
      file.body.destroy()
      return ref
    }
    expect(await order('key-2')).toBe(await order('key-2'))
    expect(await order('key-2')).not.toBe(await order('key-3'))
  })

  it.each([
    ['error', 'down', 'answered with an error (500)'],
    ['garbage', 'nonsense', 'is not JSON'],
    ['busy', 'busy', 'asks to wait'],
  ] as const)('puts the fault “%s” into plain words', async (fault, code, words) => {
    fail(fault)
    const asked = connector().terms(id === 'tin-barn' ? 'CC0-1.0' : 'plan', signal)
    await expect(asked).rejects.toMatchObject({ name: 'SourceError', code, message: expect.stringContaining(words) })
  })

  it('notices half a file', async () => {
    const [first] = await catalogue(connector())
    fail('half-body')
    const preview = await connector().preview(first?.previewRef ?? '', signal)
    await expect(bytesOf(preview.body)).rejects.toThrow()
  })

  it('says that a sound is gone', async () => {
    await expect(connector().preview('never-there', signal)).rejects.toMatchObject({ code: 'gone' })
  })

  it('stops when it is told to', async () => {
    await expect(
      connector()
        .account(AbortSignal.abort())
        .then(() => catalogueOnce(connector())),
    ).rejects.toThrow()
  })
})

async function catalogueOnce(connector: Connector): Promise<void> {
  for await (const _page of connector.catalogue(AbortSignal.abort())) return
}

describe('Tin Barn Commons', () => {
  it('gives each sound its own licence, and stores unknown ones as saying nothing', async () => {
    const keys = new Set((await catalogue(connectors['tin-barn'] as Connector)).map(({ termsKey }) => termsKey))
    expect([...keys].sort()).toEqual(['CC-BY-4.0', 'CC-BY-NC-4.0', 'CC-BY-SA-4.0', 'CC0-1.0'])
  })

  it('says when the key is refused', async () => {
    const wrong = tinBarn({ baseUrl: (standins['tin-barn'] as Standin).url, apiKey: 'wrong' })
    await expect(wrong.terms('CC0-1.0', signal)).rejects.toMatchObject({ code: 'refused' })
  })
})

describe('Heron & Slate', () => {
  it('tells the plan and its period', async () => {
    expect(await (connectors['heron-slate'] as Connector).account(signal)).toEqual({
      plan: 'Studio plan',
      planFrom: '2025-10-01',
      planUntil: '2026-09-30',
    })
  })

  it('renews its token before and after it expires', async () => {
    const connector = connectors['heron-slate'] as Connector
    await connector.account(signal)
    nowMs += 299_000
    await connector.account(signal)
    nowMs += 3_600_000
    expect(await connector.account(signal)).toMatchObject({ plan: 'Studio plan' })
  })

  it('says when the sign-in is refused', async () => {
    const wrong = heronSlate({
      baseUrl: (standins['heron-slate'] as Standin).url,
      client: 'x',
      secret: 'y',
      nowMs: () => nowMs,
    })
    await expect(wrong.account(signal)).rejects.toMatchObject({ code: 'refused' })
  })
})

describe('a library that misbehaves on the line', () => {
  async function withServer<T>(
    answer: (request: http.IncomingMessage, response: http.ServerResponse) => void,
    use: (connector: Connector) => Promise<T>,
  ): Promise<T> {
    const server = http.createServer(answer)
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    const { port } = server.address() as { port: number }
    try {
      return await use(tinBarn({ baseUrl: `http://127.0.0.1:${port}`, apiKey: 'k' }))
    } finally {
      server.closeAllConnections()
      server.close()
    }
  }

  it('is called down when nothing listens', async () => {
    const nobody = tinBarn({ baseUrl: 'http://127.0.0.1:9', apiKey: 'k' })
    await expect(nobody.terms('CC0-1.0', signal)).rejects.toMatchObject({ code: 'down' })
  })

  it('is not followed to another address', async () => {
    await withServer(
      (_request, response) => {
        response.writeHead(302, { Location: 'http://169.254.1.1/secret' })
        response.end()
      },
      (connector) => expect(connector.terms('CC0-1.0', signal)).rejects.toMatchObject({ name: 'SourceError' }),
    )
  })

  it('is refused when a sound is no sound', async () => {
    await withServer(
      (_request, response) => {
        response.writeHead(200, { 'Content-Type': 'text/html' })
        response.end('<script>1</script>')
      },
      (connector) => expect(connector.preview('x', signal)).rejects.toMatchObject({ code: 'nonsense' }),
    )
  })

  it('is asked again when it says “later”', async () => {
    let asked = 0
    await withServer(
      (_request, response) => {
        asked++
        response.writeHead(asked === 1 ? 429 : 200, { 'Content-Type': 'application/json', 'Retry-After': '0' })
        response.end(JSON.stringify({ total: 0, offset: 0, results: [] }))
      },
      async (connector) => expect(await catalogue(connector)).toEqual([]),
    )
    expect(asked).toBe(2)
  })

  it('is cut off when its answer never ends', async () => {
    await withServer(
      (_request, response) => {
        response.writeHead(200, { 'Content-Type': 'application/json' })
        const chunk = Buffer.alloc(1024 * 1024, 32)
        const more = (): void => {
          if (!response.destroyed) response.write(chunk, more)
        }
        more()
      },
      (connector) => expect(connector.terms('CC0-1.0', signal)).rejects.toMatchObject({ code: 'too-large' }),
    )
  })
})
