import fs from 'node:fs'
import http from 'node:http'
import type { AddressInfo } from 'node:net'
import path from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { z } from 'zod'
import { LIBRARY_IDS, type LibraryId, type LibrarySecrets } from '../../src/contract/library-account'
import { LibraryDescription } from '../../src/contract/library-description'
import { describedLibrary } from '../../src/server/described/described-library'
import { readDescription } from '../../src/server/described/read-description'
import { type Connector, cataloguePages } from '../../src/server/ports/connector'
import { STANDIN_SECRETS } from '../../src/standins/secrets'
import {
  codedConnectors,
  hallForTests,
  makeLibraries,
  QUICK,
  ROOT,
  type Standins,
  serveStandins,
  temporaryDir,
  urlsOf,
} from '../world'
import { conformance } from './conformance'

const textOf = (id: string) => fs.readFileSync(path.join(ROOT, 'libraries', `${id}.yaml`), 'utf8')
const signal = new AbortController().signal

const dir = temporaryDir('described')
let standins: Standins
beforeAll(async () => {
  await makeLibraries(dir)
  standins = await serveStandins(dir)
})
afterAll(async () => {
  await Promise.all(Object.values(standins).map((standin) => standin.close()))
  fs.rmSync(dir, { recursive: true })
})

function connectorOf(id: LibraryId): Connector {
  const description = { ...readDescription(textOf(id)), address: urlsOf(standins)[id] }
  return describedLibrary(description, { secrets: STANDIN_SECRETS[id], nowMs: Date.now, httpPolicy: QUICK })
}

describe.each(LIBRARY_IDS)('%s, by its description alone', (id) => {
  conformance({ connector: () => connectorOf(id), soundsMax: 500, mayOrder: true })

  it('is what its connector in code makes of it', async () => {
    const coded = codedConnectors(standins).find((one) => one.id === id) as Connector
    const described = connectorOf(id)
    const all = async (connector: Connector) => {
      const sounds = []
      for await (const page of cataloguePages(connector, signal)) sounds.push(...page.sounds)
      return sounds
    }
    // A name of a category is taken as it is served.
    const plain = (sounds: Awaited<ReturnType<typeof all>>) =>
      sounds.map((sound) => ({ ...sound, category: sound.category.toLowerCase() }))
    const [fromCode, fromText] = [await all(coded), await all(described)]
    expect(plain(fromText)).toEqual(plain(fromCode))
    expect(await described.account(signal)).toEqual(await coded.account(signal))
    const [first] = fromCode
    for (const key of new Set([first?.termsKey ?? '', ...(first?.tiers ?? []).map(({ termsKey }) => termsKey)]))
      expect(await described.terms(key, signal)).toEqual(await coded.terms(key, signal))
  })
})

describe('a library that no code knows, by its description alone', () => {
  const hall = hallForTests()
  const connector = (): Connector =>
    describedLibrary(
      { ...readDescription(textOf('quarry-hall')), address: hall().url },
      { secrets: STANDIN_SECRETS['quarry-hall'], nowMs: Date.now, httpPolicy: QUICK },
    )
  conformance({ connector, soundsMax: 60, mayOrder: true })

  it('is searched by words and conditions, page after page', async () => {
    const { search } = connector()
    if (!search) throw new Error('it cannot be searched')
    const first = await search({ words: 'gate dragged' }, null, signal)
    expect(first.total).toBe(200)
    expect(first.sounds).toHaveLength(24)
    for (const { title } of first.sounds) expect(title).toMatch(/^Gate dragged in a \w+, \d+$/)
    const second = await search({ words: 'gate dragged' }, first.next, signal)
    const ids = [...first.sounds, ...second.sounds].map(({ externalId }) => externalId)
    expect(new Set(ids).size).toBe(48)
    const short = await search({ words: 'gate dragged', maxLengthS: 1 }, null, signal)
    expect(short.total).toBeLessThan(200)
    for (const { durationS } of short.sounds) expect(durationS).toBeLessThanOrEqual(1)
    expect(await search({ words: 'gate nowhere' }, null, signal)).toEqual({ sounds: [], next: null, total: 0 })
    // Words are looked for as they are, whatever they hold.
    expect((await search({ words: 'gate&page=9#x' }, null, signal)).total).toBe(0)
  })

  it('has to be described either as read whole or as searched', () => {
    const both = `${textOf('quarry-hall')}\ncatalogue: { path: /x, paging: { kind: none }, sounds: a }\n`
    expect(() => readDescription(both)).toThrow(/catalogue: describe either/)
    expect(() =>
      readDescription(textOf('tin-barn').replace('catalogue:', 'search:').replace('{after}', '{words}')),
    ).not.toThrow()
    expect(() => readDescription(textOf('quarry-hall').replace('sounds: entries', 'sounds: "entries["'))).toThrow(
      /search\.sounds/,
    )
  })
})

describe('a description', () => {
  it('has a published schema, which is that of the code', () => {
    const file = path.join(ROOT, 'libraries', 'library-description.schema.json')
    expect(JSON.parse(fs.readFileSync(file, 'utf8'))).toEqual(z.toJSONSchema(LibraryDescription, { io: 'input' }))
  })

  it('can be written as JSON too', () => {
    const description = readDescription(textOf('tin-barn'))
    expect(readDescription(JSON.stringify(description))).toEqual(description)
  })

  const changed = (from: string, to: string) => textOf('tin-barn').replace(from, to)
  it.each([
    ['what is no YAML', '{ a: [', /This description cannot be used\. /],
    ['nothing', '', /the whole: /],
    [
      'an expression that is none',
      changed('sounds: results', 'sounds: "results["'),
      /catalogue\.sounds: “results\[” is no JMESPath/,
    ],
    ['a place that is not known', changed('total: total', 'totals: total'), /catalogue.*totals/],
    ['another version', changed('library/1', 'library/9'), /format: /],
    ['an address that is none', changed('http://127.0.0.1:4701', 'file:///etc/passwd'), /address: /],
    ['an id that is no name', changed('id: tin-barn', 'id: ../tin'), /id: write small letters/],
    ['a great many aliases', `a: &a [x]\n${Array.from({ length: 40 }, () => 'b: *a').join('\n')}`, /cannot be used/],
    ['very much', `${textOf('tin-barn')}\n#${'x'.repeat(24_001)}`, /larger than 24 KB/],
    // What a reader of YAML is slowest at: it is refused by its size before it is read.
    ['keys without end', Array.from({ length: 20_000 }, (_, at) => `k${at}: 1`).join('\n'), /larger than 24 KB/],
    ['signs that stand for none', `"${'\\x'.repeat(11_000)}"`, /cannot be used/],
  ])('of %s is refused with the place', (_, text, words) => {
    expect(() => readDescription(text)).toThrow(words)
  })
})

describe('an answer that is not as described', () => {
  let server: http.Server
  interface Answer {
    status?: number
    headers?: Record<string, string | undefined>
    body: unknown
  }
  let answer: (request: http.IncomingMessage) => Answer
  const asked: http.IncomingMessage[] = []
  beforeAll(async () => {
    server = http.createServer((request, response) => {
      asked.push(request)
      const { status = 200, headers = {}, body } = answer(request)
      response.writeHead(status, { 'Content-Type': 'application/json', ...headers })
      response.end(typeof body === 'string' ? body : JSON.stringify(body))
    })
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  })
  afterAll(() => {
    server.close()
  })
  const here = () => `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  const library = (change: (text: string) => string = (text) => text, secrets: LibrarySecrets = { key: 'k-1' }) =>
    describedLibrary(
      { ...readDescription(change(textOf('tin-barn'))), address: here() },
      { secrets, nowMs: Date.now, httpPolicy: QUICK },
    )
  const ROW = { id: 'a', name: 'A', license: 'CC0-1.0', duration_sec: 2, format: 'WAV', tags: ['x', ' ', 7] }
  const page = (...results: unknown[]) => {
    answer = () => ({ body: { total: results.length, offset: 0, results } })
  }

  it.each([
    ['no list', { ...ROW }, /./],
    [
      'a length that is text',
      { ...ROW, duration_sec: 'long' },
      /“duration_sec” \(length\) gives "long" where a number/,
    ],
    ['a length below nothing', { ...ROW, duration_sec: -1 }, /“duration_sec” \(length\) gives -1 where a length/],
    ['no id', { ...ROW, id: null }, /“id” \(id\) gives nothing where a text was expected, in \{"id":null/],
    ['a title that is an object', { ...ROW, name: { en: 'A' } }, /“name” \(title\) gives \{"en":"A"\}/],
    ['tags that are a number', { ...ROW, tags: 7 }, /“tags” \(tags\) gives 7 where a list/],
  ])('%s is told with the expression and a piece of the answer', async (name, row, words) => {
    if (name === 'no list') {
      answer = () => ({ body: { results: 'none' } })
      await expect(library().page(null, signal)).rejects.toThrow(/“results” \(sounds\) gives "none" where a list/)
      return
    }
    page(row)
    await expect(library().page(null, signal)).rejects.toThrow(words)
    await expect(library().page(null, signal)).rejects.toMatchObject({ name: 'SourceError', code: 'nonsense' })
  })

  it('what is missing is missing, and what is written otherwise is read', async () => {
    page(ROW, { ...ROW, id: 7, duration_sec: '1.5', author: null, permalink: 'javascript:alert(1)' })
    const { sounds } = await library().page(null, signal)
    expect(sounds).toMatchObject([
      { externalId: 'a', maker: '', formats: ['wav'], tags: ['x', '7'], kind: 'effect', cost: 'free' },
      { externalId: '7', durationS: 1.5, pageUrl: null },
    ])
  })

  it.each([
    ['1:05', 65],
    ['1:01:05.5', 3665.5],
  ])('a length of %s on the clock is %d s', async (length, durationS) => {
    page({ ...ROW, duration_sec: length })
    const timed = library((text) => text.replace('length: duration_sec', 'length: { from: duration_sec, unit: clock }'))
    expect((await timed.page(null, signal)).sounds[0]).toMatchObject({ durationS })
  })

  it('pages are led on by the header Link, which may not lead elsewhere', async () => {
    const linked = library((text) =>
      text.replace('paging: { kind: offset }', 'paging: { kind: link }').replace('?offset={after}&limit=40', ''),
    )
    answer = ({ url }) => ({
      headers:
        url === '/v2/sounds'
          ? { Link: `<${here()}/v2/sounds?p=2>; rel="next", <${here()}/v2/sounds>; rel="first"` }
          : {},
      body: { results: [{ ...ROW, id: url }] },
    })
    const ids: string[] = []
    for await (const { sounds } of cataloguePages(linked, signal))
      ids.push(...sounds.map(({ externalId }) => externalId))
    expect(ids).toEqual(['/v2/sounds', '/v2/sounds?p=2'])
    answer = () => ({ headers: { Link: '<http://10.0.0.7/secret>; rel=next' }, body: { results: [ROW] } })
    const { next } = await linked.page(null, signal)
    await expect(linked.page(next, signal)).rejects.toThrow(/pointed to an address in a private network/)
  })

  it('without what signs us in nothing is asked', async () => {
    asked.length = 0
    await expect(library(undefined, {}).page(null, signal)).rejects.toThrow(/asks for a key\. Enter it in Sources/)
    expect(asked).toEqual([])
  })

  it('what signs us in goes to its own host alone, and files only come from hosts that are named', async () => {
    const other = http.createServer((request, response) => {
      expect(request.headers['x-barn-key']).toBeUndefined()
      response.writeHead(200, { 'Content-Type': 'application/octet-stream' })
      response.end('RIFF')
    })
    await new Promise<void>((resolve) => other.listen(0, '127.0.0.1', resolve))
    const host = `127.0.0.1:${(other.address() as AddressInfo).port}`
    answer = ({ headers }) => {
      expect(headers['x-barn-key']).toBe('k-1')
      return { body: { at: `http://${host}/files/a.wav?sig=1` } }
    }
    const told = (text: string) =>
      text.replace(
        'preview: { path: "/v2/sounds/{preview}/preview" }',
        'preview: { path: "/p/{preview}", address: at }',
      )
    try {
      await expect(library(told).preview('a', signal)).rejects.toThrow(/it was not followed/)
      const named = library((text) => told(text).replace('signIn:', `downloadHosts: ["${host}"]\nsignIn:`))
      const { ending, body } = await named.preview('a', signal)
      body.destroy()
      expect(ending).toBe('wav')
    } finally {
      other.close()
    }
  })

  it('a redirect is followed on its own host, not in a circle, and not to another', async () => {
    answer = ({ url }) =>
      url === '/v2/sounds/a/preview'
        ? { status: 302, headers: { Location: '/moved.ogg' }, body: '' }
        : { headers: { 'Content-Type': 'audio/ogg' }, body: 'OggS' }
    const served = await library().preview('a', signal)
    served.body.destroy()
    expect(served.ending).toBe('ogg')
    answer = ({ url }) => ({ status: 302, headers: { Location: url ?? '/' }, body: '' })
    await expect(library().preview('a', signal)).rejects.toThrow(/sent us on to another address/)
    answer = () => ({ status: 302, headers: { Location: 'http://192.168.1.1/x.ogg' }, body: '' })
    await expect(library().preview('a', signal)).rejects.toThrow(/private network/)
  })

  it('a name that nobody knows is told with those that are known', async () => {
    const wrong = library((text) => text.replace('/v2/sounds/{preview}/preview', '/v2/{sound}/preview'))
    await expect(wrong.preview('a', signal)).rejects.toThrow(/asks for \{sound\} where only \{preview\} are known/)
  })

  it('an id cannot leave its place in the address', async () => {
    answer = () => ({ headers: { 'Content-Type': 'audio/ogg' }, body: 'OggS' })
    asked.length = 0
    const served = await library().preview('../../admin?x=1', signal)
    served.body.destroy()
    expect(asked[0]?.url).toBe('/v2/sounds/..%2F..%2Fadmin%3Fx%3D1/preview')
  })
})
