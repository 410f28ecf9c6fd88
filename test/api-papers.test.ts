import fs from 'node:fs'
import path from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { z } from 'zod'
import {
  BasketWire,
  DeskWire,
  ElsewhereTaken,
  FolderAdded,
  JobStarted,
  MayIAnswer,
  PapersList,
  PoliciesTaken,
  Problem,
  ProposalList,
  ReadingWire,
  SoundDetail,
  TermsPage,
  TermsSummaryList,
  Video,
} from '../src/contract'
import { writeWav } from '../src/core/formats/wav'
import * as basketRoute from '../src/pages/api/basket/index'
import * as payRoute from '../src/pages/api/basket/pay'
import * as deskRoute from '../src/pages/api/desk'
import * as elsewhereRoute from '../src/pages/api/elsewhere/index'
import * as evidenceFileRoute from '../src/pages/api/evidence/[id]'
import * as scanRoute from '../src/pages/api/folders/[id]/scan'
import * as foldersRoute from '../src/pages/api/folders/index'
import * as evidenceRoute from '../src/pages/api/papers/[id]/evidence'
import * as paperRoute from '../src/pages/api/papers/[id]/index'
import * as recordRoute from '../src/pages/api/papers/[id]/record'
import * as exportRoute from '../src/pages/api/papers/export'
import * as papersRoute from '../src/pages/api/papers/index'
import * as mayIRoute from '../src/pages/api/papers/may-i'
import * as readRoute from '../src/pages/api/papers/read'
import * as proposalRoute from '../src/pages/api/proposals/[id]'
import * as proposalsRoute from '../src/pages/api/proposals/index'
import * as declareRoute from '../src/pages/api/sounds/[id]/declare'
import * as soundRoute from '../src/pages/api/sounds/[id]/index'
import * as sourceRemovalRoute from '../src/pages/api/sources/[id]/removal'
import * as confirmRoute from '../src/pages/api/terms/[id]/confirm'
import * as termsRoute from '../src/pages/api/terms/[id]/index'
import * as odrlRoute from '../src/pages/api/terms/[id]/odrl'
import * as importRoute from '../src/pages/api/terms/import'
import * as termsListRoute from '../src/pages/api/terms/index'
import * as videosRoute from '../src/pages/api/videos/index'
import { call, serveApp, value } from './call'
import { download, mirrorAll, openWorld, soundId, soundSamples, temporaryDir, type World } from './world'

let world: World
const folder = temporaryDir('api-folder')
beforeAll(async () => {
  world = await openWorld('api-papers')
  serveApp(world.app)
  await mirrorAll(world, ['pell-marrow', 'tin-barn'])
})
afterAll(async () => {
  await world.close()
  fs.rmSync(folder, { recursive: true })
})

const USES = { places: ['online'], earns: false, territory: 'worldwide', publishOn: '2030-01-01', videoLicence: null }

function wav(id: string): Uint8Array {
  return writeWav({ sampleRateHz: 48000, channels: [soundSamples(id)] })
}

describe('every route of papers answers by its contract', () => {
  it('a sound is bought, recorded for a video, and its receipt is handed out as what it is', async () => {
    const { id: videoId } = await value(Video, videosRoute, 'POST', { body: { title: 'Film', uses: USES } })
    const id = String(await soundId(world.app, 'Crate lands'))
    const { tiers } = await value(SoundDetail, soundRoute, 'GET', { params: { id } })
    const [tier] = tiers
    const wish = { soundId: Number(id), tier: tier?.key, videoId: null }
    const { lines } = await value(BasketWire, basketRoute, 'POST', { body: wish })
    const agreed = lines.map(({ id: line, priceMinor, currency }) => ({ id: line, priceMinor, currency }))
    expect(
      (await value(z.object({ orderCount: z.number() }), payRoute, 'POST', { body: { lines: agreed } })).orderCount,
    ).toBe(1)
    await world.app.jobs.idle()
    const { papers } = await value(SoundDetail, soundRoute, 'GET', { params: { id } })
    expect(papers).toMatchObject([{ needsVideo: true, boundToVideo: false }])
    const params = { id: String(papers[0]?.grantId) }
    await value(z.object({}), recordRoute, 'POST', { params, body: { videoId, key: 'projects' } })
    const answer = await value(MayIAnswer, mayIRoute, 'POST', { body: { soundId: Number(id), uses: USES, videoId } })
    expect(answer.verdict).toBe('clear')
    const file = await call(evidenceFileRoute, 'GET', { params: { id: String(papers[0]?.evidence[0]?.id) } })
    expect(file.headers.get('content-type')).toBe('application/pdf')
    expect(file.headers.get('content-security-policy')).toContain("default-src 'none'")
    await file.body?.cancel()
  })

  it('evidence that is no picture or PDF is handed out as a file, never shown', async () => {
    const { soundId: id } = await value(ElsewhereTaken, elsewhereRoute, 'PUT', { query: '?name=y.wav', raw: wav('z9') })
    await value(z.object({}), declareRoute, 'POST', {
      params: { id: String(id) },
      body: { from: 'me', terms: { kind: 'own' } },
    })
    const mine = async () =>
      (await value(PapersList, papersRoute, 'GET')).rows.find(({ soundId: sound }) => sound === id)
    const params = { id: String((await mine())?.grantId) }
    const raw = 'From: a@b.example\n\n<script>alert(1)</script>'
    await value(z.object({}), evidenceRoute, 'PUT', { params, query: '?name=mail.eml', raw })
    const mail = (await mine())?.evidence.find(({ fileName }) => fileName === 'mail.eml')
    const file = await call(evidenceFileRoute, 'GET', { params: { id: String(mail?.id) } })
    expect(file.headers.get('content-type')).toContain('text/plain')
    expect(file.headers.get('content-disposition')).toContain('attachment')
    expect(await file.text()).toBe(raw)
  })

  it('a file comes from elsewhere, is declared, and taken back', async () => {
    const { soundId: id } = await value(ElsewhereTaken, elsewhereRoute, 'PUT', { query: '?name=x.wav', raw: wav('z1') })
    const params = { id: String(id) }
    await value(z.object({}), declareRoute, 'POST', { params, body: { from: 'me', terms: { kind: 'own' } } })
    const ask = { body: { soundId: id, uses: { ...USES, places: ['broadcast', 'game'], earns: true } } }
    expect((await value(MayIAnswer, mayIRoute, 'POST', ask)).verdict).toBe('clear')
    const { papers } = await value(SoundDetail, soundRoute, 'GET', { params })
    await value(z.object({}), paperRoute, 'PATCH', {
      params: { id: String(papers[0]?.grantId) },
      body: { takenBack: true },
    })
    expect((await value(MayIAnswer, mayIRoute, 'POST', ask)).verdict).toBe('no-papers')
  })

  it('a folder is added, scanned, its proposals answered, and let go', async () => {
    fs.writeFileSync(path.join(folder, 'a.wav'), wav('z2'))
    fs.writeFileSync(path.join(folder, 'license.md'), 'CC0-1.0')
    const { id } = await value(FolderAdded, foldersRoute, 'POST', { body: { path: folder } })
    await world.app.jobs.idle()
    await value(JobStarted, scanRoute, 'POST', { params: { id } })
    await world.app.jobs.idle()
    const { proposals } = await value(ProposalList, proposalsRoute, 'GET')
    expect(proposals).toMatchObject([{ path: 'license.md', soundCount: 1 }])
    const { soundCount } = await value(z.object({ soundCount: z.number() }), proposalRoute, 'POST', {
      params: { id: String(proposals[0]?.id) },
      body: { accept: true, terms: { kind: 'known', spdxId: 'CC0-1.0' } },
    })
    expect(soundCount).toBe(1)
    await value(z.object({}), sourceRemovalRoute, 'PUT', { params: { id }, body: { removed: true } })
    await value(z.object({}), sourceRemovalRoute, 'PUT', { params: { id }, body: { removed: false } })
  })

  it('terms: listed, told, handed out and taken in as ODRL', async () => {
    const { terms } = await value(TermsSummaryList, termsListRoute, 'GET')
    const params = { id: String(terms.find(({ title }) => title.startsWith('Pell'))?.id) }
    const page = await value(TermsPage, termsRoute, 'GET', { params })
    const policy = await call(odrlRoute, 'GET', { params })
    expect(policy.headers.get('content-type')).toBe('application/ld+json')
    const raw = (await policy.text()).replaceAll('Pell', 'Another')
    const taken = await value(PoliciesTaken, importRoute, 'PUT', { raw, query: '?name=friend.jsonld' })
    const imported = { id: String(taken.termsIds[0]) }
    expect((await value(TermsPage, termsRoute, 'GET', { params: imported })).toConfirm).toContain('online')
    const { termsId } = await value(z.object({ termsId: z.number() }), confirmRoute, 'POST', {
      params: imported,
      body: { confirmed: ['online'] },
    })
    const confirmed = await value(TermsPage, termsRoute, 'GET', { params: { id: String(termsId) } })
    expect(confirmed).toMatchObject({ toConfirm: null, text: page.text.replaceAll('Pell', 'Another') })
  })

  it('a text is read, the desk is told and changed', async () => {
    const reading = await value(ReadingWire, readRoute, 'POST', {
      body: { text: 'Under CC BY 4.0. No broadcast is allowed.' },
    })
    expect(reading.licences).toMatchObject([{ spdxId: 'CC-BY-4.0', title: 'Creative Commons BY 4.0' }])
    expect(reading.clauses).toMatchObject([{ key: 'broadcast', answer: 'no' }])
    await value(DeskWire, deskRoute, 'GET')
    await value(DeskWire, deskRoute, 'PATCH', { body: { key: 'nothing', seen: true } })
  })

  it.each(['csv', 'json', 'odrl'])('papers are handed out as %s', async (format) => {
    const file = await call(exportRoute, 'GET', { query: `?format=${format}` })
    expect(file.headers.get('content-disposition')).toContain('attachment')
    expect((await file.text()).length).toBeGreaterThan(100)
  })
})

describe('problems of papers come in one shape, with what to do', () => {
  const none = { id: '987654' }
  it.each([
    ['bad-request', 400, () => call(exportRoute, 'GET', { query: '?format=exe' })],
    ['bad-request', 400, () => call(mayIRoute, 'POST', { body: { soundId: 1, uses: { ...USES, places: [] } } })],
    ['bad-request', 400, () => call(foldersRoute, 'POST', { body: { path: '' } })],
    [
      'bad-request',
      400,
      () => call(declareRoute, 'POST', { params: none, body: { terms: { kind: 'known', spdxId: 'X' } } }),
    ],
    ['bad-request', 400, () => call(recordRoute, 'POST', { params: none, body: { videoId: 1, key: 'anything' } })],
    ['bad-range', 400, () => call(elsewhereRoute, 'PUT', { query: '?name=x.wav&fromS=5&toS=2', raw: 'x' })],
    ['not-found', 404, () => call(mayIRoute, 'POST', { body: { soundId: 987654, uses: USES } })],
    ['not-found', 404, () => call(basketRoute, 'POST', { body: { soundId: 999_999, tier: 'web', videoId: null } })],
    ['not-found', 404, () => call(declareRoute, 'POST', { params: none, body: { terms: { kind: 'unknown' } } })],
    ['not-found', 404, () => call(evidenceRoute, 'PUT', { params: none, query: '?name=a.txt', raw: 'x' })],
    ['not-found', 404, () => call(evidenceFileRoute, 'GET', { params: none })],
    ['not-found', 404, () => call(paperRoute, 'PATCH', { params: none, body: { takenBack: true } })],
    ['not-found', 404, () => call(recordRoute, 'POST', { params: none, body: { videoId: 1, key: 'projects' } })],
    ['not-found', 404, () => call(sourceRemovalRoute, 'PUT', { params: { id: 'no-such' }, body: { removed: true } })],
    ['not-found', 404, () => call(scanRoute, 'POST', { params: { id: 'tin-barn' } })],
    ['not-found', 404, () => call(proposalRoute, 'POST', { params: none, body: { accept: false } })],
    ['not-found', 404, () => call(odrlRoute, 'GET', { params: none })],
    ['no-folder', 422, () => call(foldersRoute, 'POST', { body: { path: 'not/absolute' } })],
    ['not-odrl', 422, () => call(importRoute, 'PUT', { raw: '{}', query: '?name=x.json' })],
    ['empty-file', 422, () => call(elsewhereRoute, 'PUT', { query: '?name=x.wav' })],
  ] as const)('%s (%i)', async (code, status, act) => {
    const response = await act()
    const problem = Problem.parse(await response.json())
    expect(problem).toMatchObject({ code, status })
    expect(problem.detail.length).toBeGreaterThan(10)
  })

  it('papers of a library are neither declared nor taken back', async () => {
    const params = { id: String(await soundId(world.app, 'Ice crack')) }
    const declared = await call(declareRoute, 'POST', { params, body: { terms: { kind: 'own' } } })
    expect(Problem.parse(await declared.json()).code).toBe('from-library')
    await download(world.app, 'Dull thud')
    const { rows } = await value(PapersList, papersRoute, 'GET')
    const bought = rows.find(({ title }) => title === 'Dull thud')
    const taken = await call(paperRoute, 'PATCH', {
      params: { id: String(bought?.grantId) },
      body: { takenBack: true },
    })
    expect(Problem.parse(await taken.json()).code).toBe('from-library')
  })
})
