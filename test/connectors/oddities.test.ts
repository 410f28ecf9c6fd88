import fs from 'node:fs'
import http from 'node:http'
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest'
import { readWav } from '../../src/core/formats/wav'
import { clauseOf, groundedClauses } from '../../src/core/rights'
import { type CatalogueSound, type Connector, cataloguePages } from '../../src/server/ports/connector'
import { isPublic } from '../../src/server/sources/address-guard'
import { heronSlate } from '../../src/server/sources/heron-slate'
import { tinBarn } from '../../src/server/sources/tin-barn'
import type { Fault } from '../../src/standins/serve'
import {
  BARN_SOUNDS,
  codedConnectors,
  HERON_SOUNDS,
  makeLibraries,
  PELL_SOUNDS,
  QUICK,
  SKERRY_SOUNDS,
  type Standins,
  serveStandins,
  soundSamples,
  temporaryDir,
} from '../world'

const dir = temporaryDir('connectors')
const signal = new AbortController().signal
let nowMs = Date.parse('2026-06-15T12:00:00Z')
let standins: Standins
let connectors: Record<string, Connector>

beforeAll(async () => {
  await makeLibraries(dir)
  standins = await serveStandins(dir, () => nowMs)
  const made = codedConnectors(standins, () => nowMs)
  connectors = Object.fromEntries(made.map((connector) => [connector.id, connector]))
})
afterAll(async () => {
  for (const standin of Object.values(standins)) await standin.close()
  fs.rmSync(dir, { recursive: true })
})
afterEach(() => {
  for (const { control } of Object.values(standins)) Object.assign(control, { fault: 'none', faultsLeft: null })
})

async function catalogue(connector: Connector): Promise<CatalogueSound[]> {
  const all: CatalogueSound[] = []
  for await (const page of cataloguePages(connector, signal)) all.push(...page.sounds)
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
  ['pell-marrow', PELL_SOUNDS],
  ['skerryview', SKERRY_SOUNDS],
] as const)('the connector %s', (id, sounds) => {
  const connector = (): Connector => connectors[id] as Connector
  const fail = (fault: Fault): void => {
    standins[id].control.fault = fault
  }

  it('reads the whole catalogue over its pages, in our words and units', async () => {
    const all = await catalogue(connector())
    expect(all.map(({ externalId }) => externalId)).toEqual(sounds.map((sound) => sound.id))
    const [first] = all
    expect(first).toMatchObject({ title: sounds[0]?.title, maker: sounds[0]?.maker, category: sounds[0]?.category })
    expect(first?.tags).toEqual(sounds[0]?.tags.split(' '))
    expect(first?.durationS).toBeCloseTo(soundSamples(sounds[0]?.id ?? '').length / 48000, 1)
  })

  it('hands out a preview and the original', async () => {
    const [first] = await catalogue(connector())
    const preview = await connector().preview(first?.previewRef ?? '', signal)
    expect(preview).toMatchObject({ mime: 'audio/ogg', ending: 'ogg' })
    expect((await bytesOf(preview.body)).subarray(0, 4).toString()).toBe('OggS')
    const [lowest] = first?.tiers ?? []
    const tier = lowest ? { key: lowest.key, priceMinor: lowest.priceMinor, currency: lowest.currency } : null
    const order = await connector().order(first?.externalId ?? '', { key: 'key-1', tier }, signal)
    const file = await order.file(signal)
    expect(file.ending).toBe('wav')
    const audio = readWav(new Uint8Array(await bytesOf(file.body)))
    expect(audio.channels[0]?.length).toBe(soundSamples(first?.externalId ?? '').length)
  })

  it.each([
    ['error', 'down', 'answered with an error (500)'],
    ['garbage', 'nonsense', 'is not JSON'],
    ['busy', 'busy', 'asks to wait'],
  ] as const)('puts the fault “%s” into plain words', async (fault, code, words) => {
    fail(fault)
    const asked = connector().page(null, signal)
    await expect(asked).rejects.toMatchObject({ name: 'SourceError', code, message: expect.stringContaining(words) })
  })

  it('notices half a file', async () => {
    const [first] = await catalogue(connector())
    fail('half-body')
    const preview = await connector().preview(first?.previewRef ?? '', signal)
    await expect(bytesOf(preview.body)).rejects.toThrow()
  })

  it('takes the markup in a title for what it is: a text', async () => {
    fail('html-titles')
    expect((await catalogue(connector()))[0]?.title).toContain('<img src=x onerror')
  })

  it('is tried again after a passing failure, and no longer than that', async () => {
    fail('error')
    standins[id].control.faultsLeft = 2
    expect((await connector().page(null, signal)).sounds.length).toBeGreaterThan(0)
  })

  it('is not followed to another address', async () => {
    fail('redirect')
    await expect(connector().page(null, signal)).rejects.toMatchObject({ code: 'refused' })
  })

  it('is refused a file of which 10 GB are announced', async () => {
    const [first] = await catalogue(connector())
    fail('huge')
    await expect(connector().preview(first?.previewRef ?? '', signal)).rejects.toMatchObject({
      code: 'too-large',
      message: expect.stringContaining('10.0 GB'),
    })
  })
})

describe.each(['heron-slate', 'pell-marrow', 'skerryview'] as const)('the links of %s', (id) => {
  it('are not followed into a private network', async () => {
    const connector = connectors[id] as Connector
    const [sound] = await catalogue(connector)
    standins[id].control.fault = 'private-link'
    const [lowest] = sound?.tiers ?? []
    const tier = lowest ? { key: lowest.key, priceMinor: lowest.priceMinor, currency: lowest.currency } : null
    await expect(
      connector.order(sound?.externalId ?? '', { key: `private-${id}`, tier }, signal).then(({ file }) => file(signal)),
    ).rejects.toMatchObject({
      code: 'refused',
      message: expect.stringContaining('private network'),
    })
  })
})

describe('addresses', () => {
  it.each([
    ['8.8.8.8', true],
    ['2606:4700::1111', true],
    ['10.0.0.7', false],
    ['172.16.4.4', false],
    ['192.168.1.1', false],
    ['127.0.0.1', false],
    ['169.254.1.1', false],
    ['0.0.0.0', false],
    ['100.64.0.1', false],
    ['::1', false],
    ['fc00::1', false],
    ['fe80::1', false],
    ['::ffff:10.0.0.7', false],
  ])('%s is public: %s', (address, expected) => {
    expect(isPublic(address)).toBe(expected)
  })
})

describe('Pell & Marrow', () => {
  const shop = (): Connector => connectors['pell-marrow'] as Connector

  it('has three tiers for each sound, in milliseconds and cents, and facts of its music', async () => {
    const [crate, vault, bed] = await catalogue(shop())
    expect(crate?.tiers.map(({ key, priceMinor }) => [key, priceMinor])).toEqual([
      ['web', 300],
      ['promo', 675],
      ['all', 1800],
    ])
    expect(crate?.cost).toBe('from 3.00 EUR')
    expect(vault).toMatchObject({ maker: '', category: '', tags: [] })
    expect(bed).toMatchObject({ kind: 'music', tempoBpm: 84, mood: 'calm', vocals: true })
  })

  it('buys once for one key, and gives a receipt', async () => {
    const before = standins['pell-marrow'].orderCount()
    const request = { key: 'once', tier: { key: 'web', priceMinor: 300, currency: 'EUR' } }
    for (let i = 0; i < 3; i++) {
      const { ref, paid, receipt, file } = await shop().order('p1', request, signal)
      const opened = await file(signal)
      opened.body.destroy()
      expect(ref).toMatch(/^PM-/)
      expect(paid).toEqual({ minor: 300, currency: 'EUR' })
      expect(
        (await bytesOf((await (receipt as NonNullable<typeof receipt>)(signal)).body)).subarray(0, 5).toString(),
      ).toBe('%PDF-')
    }
    expect(standins['pell-marrow'].orderCount()).toBe(before + 1)
    expect(await shop().findOrder?.('once', signal)).toMatchObject({ paid: { minor: 300, currency: 'EUR' } })
    expect(await shop().findOrder?.('never', signal)).toBeNull()
  })

  it('buys nothing above the price that was seen, and nothing without a tier', async () => {
    const before = standins['pell-marrow'].orderCount()
    const cheap = { key: 'cheap', tier: { key: 'all', priceMinor: 500, currency: 'EUR' } }
    await expect(shop().order('p1', cheap, signal)).rejects.toMatchObject({ code: 'price-changed' })
    await expect(shop().order('p1', { key: 'k', tier: null }, signal)).rejects.toMatchObject({ code: 'refused' })
    expect(standins['pell-marrow'].orderCount()).toBe(before)
  })

  it.each([
    ['web', { broadcast: 'no', 'paid-advertising': 'no', projects: 'duty', 'audio-only': 'not-stated', proof: 'duty' }],
    ['promo', { broadcast: 'not-stated', 'paid-advertising': 'yes', projects: 'yes', game: 'not-stated' }],
    ['all', { broadcast: 'yes', cinema: 'yes', game: 'yes', 'audio-only': 'yes', projects: 'yes', standalone: 'no' }],
  ] as const)('says in the tier “%s” what it says', async (key, expected) => {
    const served = await shop().terms(key, signal)
    const terms = { ...served, clauses: groundedClauses(served.text, served.readings) }
    for (const [clause, answer] of Object.entries(expected))
      expect(clauseOf(terms, clause as 'online').answer, clause).toBe(answer)
  })
})

describe('Skerryview', () => {
  const host = (): Connector => connectors.skerryview as Connector

  it('is silent on cinema, games and sound alone, and asks for a credit of its own form in one variant', async () => {
    const [named, open] = await Promise.all(['named', 'open'].map((key) => host().terms(key, signal)))
    for (const served of [named, open]) {
      if (!served) throw new Error('no terms')
      const terms = { ...served, clauses: groundedClauses(served.text, served.readings) }
      for (const key of ['cinema', 'game', 'audio-only', 'broadcast'] as const)
        expect(clauseOf(terms, key).answer).toBe('not-stated')
      expect(clauseOf(terms, 'credit').answer).toBe(served === named ? 'duty' : 'yes')
    }
  })

  it('gives links that expire, and a fresh one each time', async () => {
    const links: string[] = []
    for (let i = 0; i < 2; i++) {
      const answer = await fetch(`${standins.skerryview.url}/collection/s1?key=sv-small-hours`)
      links.push(((await answer.json()) as { fullUrl: string }).fullUrl)
      nowMs += 60_000
    }
    const status = async (link: string): Promise<number> => (await fetch(standins.skerryview.url + link)).status
    expect(await status(links[1] as string)).toBe(200)
    expect(await status(links[0] as string)).toBe(403)
  })

  it('turns lengths written as text into seconds', async () => {
    const [owl] = await catalogue(host())
    expect(owl?.durationS).toBeCloseTo(soundSamples('s1').length / 48000, 1)
  })
})

describe('Tin Barn Commons', () => {
  it('gives each sound its own licence, and stores unknown ones as saying nothing', async () => {
    const keys = new Set((await catalogue(connectors['tin-barn'] as Connector)).map(({ termsKey }) => termsKey))
    expect([...keys].sort()).toEqual(['CC-BY-4.0', 'CC-BY-NC-4.0', 'CC-BY-SA-4.0', 'CC0-1.0'])
  })

  it('says when the key is refused', async () => {
    const wrong = tinBarn({ baseUrl: standins['tin-barn'].url, apiKey: 'wrong' })
    await expect(wrong.terms('CC0-1.0', signal)).rejects.toMatchObject({ code: 'refused' })
  })
})

describe('Heron & Slate', () => {
  it('says that the plan has ended when a sound is ordered after that', async () => {
    standins['heron-slate'].control.planUntil = '2026-06-14'
    const order = (connectors['heron-slate'] as Connector).order('h1', { key: 'late', tier: null }, signal)
    await expect(order).rejects.toMatchObject({ code: 'refused', message: expect.stringContaining('plan has ended') })
    standins['heron-slate'].control.planUntil = '2026-09-30'
  })

  it('hands a sound out in each format that it is offered in, and in no other', async () => {
    const connector = connectors['heron-slate'] as Connector
    const sound = (await catalogue(connector)).find(({ formats }) => formats.length > 1)
    expect(sound?.formats).toEqual(['wav', 'ogg'])
    const ordered = async (format: string | null) => {
      const request = { key: `in-${format}`, tier: null, format }
      const order = await connector.order(sound?.externalId ?? '', request, signal)
      const file = await order.file(signal)
      file.body.destroy()
      return file.ending
    }
    expect(await ordered('ogg')).toBe('ogg')
    expect(await ordered('wav')).toBe('wav')
    expect(await ordered(null)).toBe('wav')
    await expect(ordered('mp3')).rejects.toMatchObject({ code: 'gone' })
  })

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
      baseUrl: standins['heron-slate'].url,
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
      return await use(tinBarn({ baseUrl: `http://127.0.0.1:${port}`, apiKey: 'k', httpPolicy: QUICK }))
    } finally {
      server.closeAllConnections()
      server.close()
    }
  }

  it('is called down when nothing listens', async () => {
    const nobody = tinBarn({ baseUrl: 'http://127.0.0.1:9', apiKey: 'k', httpPolicy: QUICK })
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
