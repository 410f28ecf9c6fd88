import fs from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { BatchPlan, BatchStarted, Shelf, type ShelfEdit } from '../src/contract'
import { readWav } from '../src/core/formats/wav'
import * as filesRoute from '../src/pages/api/batches/[id]/files'
import * as batchesRoute from '../src/pages/api/batches/index'
import * as planRoute from '../src/pages/api/batches/plan'
import * as collectionRoute from '../src/pages/api/collections/[id]'
import * as collectionsRoute from '../src/pages/api/collections/index'
import * as partRoute from '../src/pages/api/copies/[sha256]/part'
import * as keepRoute from '../src/pages/api/keeps/[id]'
import * as shelfRoute from '../src/pages/api/shelf/index'
import { todayIso } from '../src/server/database/open'
import { changeShell } from '../src/server/shell-state'
import { getSoundDetail } from '../src/server/sounds/sound-detail'
import { createVideo } from '../src/server/videos/videos'
import { call, serveApp, value } from './call'
import { download, mirrorAll, openWorld, searched, soundId, type World } from './world'

let world: World
/** The Shelf before anything was done. */
let atFirst: Shelf
let ids: Record<'ice' | 'thud' | 'bell' | 'crate' | 'owl' | 'vault' | 'lake', number>
beforeAll(async () => {
  world = await openWorld('shelf')
  serveApp(world.app)
  await mirrorAll(world, ['tin-barn', 'pell-marrow', 'skerryview'])
  ids = {
    ice: await soundId(world.app, 'Ice crack'),
    thud: await soundId(world.app, 'Dull thud'),
    bell: await soundId(world.app, 'Bronze bell'),
    crate: await soundId(world.app, 'Crate lands'),
    owl: await soundId(world.app, 'Far owl'),
    vault: await soundId(world.app, 'Vault closes'),
    lake: await soundId(world.app, 'Lake at dusk'),
  }
  atFirst = await shelf()
})
afterAll(() => world.close())

const shelf = () => value(Shelf, shelfRoute, 'GET')
const edit = (change: ShelfEdit) => call(shelfRoute, 'PATCH', { body: change })
const onShelf = async (id: number) => (await shelf()).sounds.find((sound) => sound.id === id)

async function collection(name: string): Promise<number> {
  const response = await call(collectionsRoute, 'POST', { body: { name } })
  return ((await response.json()) as { id: number }).id
}

describe('keeping', () => {
  it('is empty at first', () => {
    expect(atFirst).toEqual({ sounds: [], collections: [], duplicates: [], cut: false })
  })

  it('keeps with a note, changes the note, and lets go', async () => {
    const params = { id: String(ids.ice) }
    await call(keepRoute, 'PUT', { params, body: { note: 'for the pond' } })
    expect(await onShelf(ids.ice)).toMatchObject({
      title: 'Ice crack',
      kept: true,
      note: 'for the pond',
      copySha256: null,
    })
    await call(keepRoute, 'PUT', { params, body: {} })
    expect((await onShelf(ids.ice))?.note).toBe('for the pond')
    await call(keepRoute, 'DELETE', { params })
    expect(await onShelf(ids.ice)).toBeUndefined()
  })

  it.each([
    [{ do: 'keep', soundIds: [99_999] }, 404],
    [{ do: 'keep', soundIds: [] }, 400],
    [{ do: 'paint', soundIds: [1] }, 400],
    [{ do: 'rename', soundIds: [1], title: '' }, 400],
    [{ do: 'put', soundIds: [1], collectionId: 99_999 }, 404],
  ])('refuses %j', async (change, status) => {
    const before = await shelf()
    expect((await edit(change as never)).status).toBe(status)
    expect(await shelf()).toEqual(before)
  })
})

describe('collections', () => {
  it('hold sounds in an order of their own; what is put in is kept', async () => {
    const id = await collection('Nights')
    await edit({ do: 'put', soundIds: [ids.ice, ids.thud], collectionId: id, beforeId: null })
    await edit({ do: 'put', soundIds: [ids.bell], collectionId: id, beforeId: ids.thud })
    await edit({ do: 'put', soundIds: [ids.ice], collectionId: id, beforeId: null })
    const nights = async () => (await shelf()).collections.find((one) => one.id === id)
    expect(await nights()).toEqual({ id, name: 'Nights', soundIds: [ids.bell, ids.thud, ids.ice] })
    await edit({ do: 'take-out', soundIds: [ids.bell], collectionId: id })
    expect(await onShelf(ids.bell)).toMatchObject({ kept: true, collectionIds: [] })
    // What is kept no longer is in no collection either.
    await edit({ do: 'unkeep', soundIds: [ids.thud] })
    expect((await nights())?.soundIds).toEqual([ids.ice])
  })

  it('are renamed, moved and ended; two of one name are refused', async () => {
    const hits = await collection('Hits')
    const paper = await collection('Paper')
    expect((await call(collectionsRoute, 'POST', { body: { name: 'Hits' } })).status).toBe(409)
    expect((await call(collectionsRoute, 'POST', { body: { name: '' } })).status).toBe(400)
    const change = (id: number, body: object) => call(collectionRoute, 'PATCH', { params: { id: String(id) }, body })
    expect((await change(paper, { name: 'Hits' })).status).toBe(409)
    await change(paper, { name: 'Pages', beforeId: hits })
    const names = async () => (await shelf()).collections.map(({ name }) => name).filter((name) => name !== 'Nights')
    expect(await names()).toEqual(['Pages', 'Hits'])
    await change(paper, { beforeId: null })
    expect(await names()).toEqual(['Hits', 'Pages'])
    await call(collectionRoute, 'DELETE', { params: { id: String(hits) } })
    expect(await names()).toEqual(['Pages'])
    expect((await change(99_999, { name: 'x' })).status).toBe(404)
  })
})

describe('names and habits', () => {
  it('a sound gets another name and keeps the first; null gives it back', async () => {
    await edit({ do: 'keep', soundIds: [ids.owl] })
    await edit({ do: 'rename', soundIds: [ids.owl], title: 'Hoot' })
    expect(await onShelf(ids.owl)).toMatchObject({ title: 'Hoot', originalTitle: 'Far owl' })
    expect((await getSoundDetail(world.app, ids.owl, null)).originalTitle).toBe('Far owl')
    await edit({ do: 'rename', soundIds: [ids.owl], title: null })
    expect(await onShelf(ids.owl)).toMatchObject({ title: 'Far owl', originalTitle: null })
  })

  it('habits are given to several at once, once each', async () => {
    await edit({ do: 'habit', soundIds: [ids.owl, ids.ice], words: 'Chapter card' })
    await edit({ do: 'habit', soundIds: [ids.owl], words: 'chapter card' })
    expect((await onShelf(ids.owl))?.habits).toEqual(['chapter card'])
    await edit({ do: 'no-habit', soundIds: [ids.owl], words: 'chapter card' })
    expect((await onShelf(ids.owl))?.habits).toEqual([])
    expect((await onShelf(ids.ice))?.habits).toEqual(['chapter card'])
    const query = { q: 'chapter card', sort: 'best', limit: 5, offset: 0 } as const
    expect((await searched(world.app, query, null)).sounds.map(({ id }) => id)).toEqual([ids.ice])
  })
})

describe('several downloads as one job', () => {
  const plan = (soundIds: number[]) => value(BatchPlan, planRoute, 'POST', { body: { soundIds } })
  /** Begins to bring sounds, and waits until it is done. */
  async function bring(soundIds: readonly number[]): Promise<{ readonly batchId: number; readonly jobId: number }> {
    const items = soundIds.map((soundId) => ({ soundId, priceMinor: soundId === ids.crate ? 300 : 0 }))
    const started = await value(BatchStarted, batchesRoute, 'POST', { body: { items } })
    await world.app.jobs.idle()
    return started
  }

  it('say what they cost before; what is sold in the cheapest tier that fits the video in hand', async () => {
    expect(await plan([ids.lake, ids.vault])).toMatchObject({
      lines: [
        { soundId: ids.lake, how: 'free', priceMinor: 0 },
        { soundId: ids.vault, how: 'buy', tierTitle: expect.any(String), priceMinor: 450 },
      ],
      total: '4.50 EUR',
    })
    const uses = {
      places: ['broadcast'],
      earns: true,
      territory: 'worldwide',
      countries: [],
      publishOn: null,
      videoLicence: null,
    }
    const video = await createVideo(world.app, { title: 'For the air', uses } as never, todayIso())
    await changeShell(world.app, { videoInHandId: video.id })
    const dearer = (await plan([ids.vault])).lines[0]
    expect(dearer?.priceMinor).toBeGreaterThan(450)
    await changeShell(world.app, { videoInHandId: null })
  })

  it('refuse a price that was not agreed to, and what is not there', async () => {
    const low = { items: [{ soundId: ids.vault, priceMinor: 449 }] }
    expect((await call(batchesRoute, 'POST', { body: low })).status).toBe(409)
    expect((await call(planRoute, 'POST', { body: { soundIds: [99_999] } })).status).toBe(404)
    expect((await call(batchesRoute, 'POST', { body: { items: [] } })).status).toBe(400)
  })

  it('bring all of them with their papers, and name none twice in the archive', async () => {
    const { batchId, jobId } = await bring([ids.thud, ids.bell, ids.crate])
    expect(await world.app.jobs.find(jobId)).toMatchObject({
      state: 'done',
      message: 'All 3 are here, with their papers.',
    })
    const detail = await getSoundDetail(world.app, ids.crate, null)
    expect(detail.papers[0]).toMatchObject({ kind: 'purchase' })
    expect((await plan([ids.thud, ids.bell])).lines.map(({ how }) => how)).toEqual(['here', 'here'])
    const response = await call(filesRoute, 'GET', { params: { id: String(batchId) } })
    const bytes = Buffer.from(await response.arrayBuffer())
    expect(bytes.subarray(0, 4).toString('latin1')).toBe('PK\u0003\u0004')
    for (const name of ['Dull thud', 'Bronze bell', 'Crate lands']) expect(bytes.includes(name)).toBe(true)
  })

  it('go on where they broke off: an order that was placed is not placed again', async () => {
    const { batchId } = await bring([ids.crate])
    const { papers: before } = await getSoundDetail(world.app, ids.crate, null)
    await world.app.db.updateTable('batch_items').set({ state: 'open' }).where('batch_id', '=', batchId).execute()
    const { job } = await world.app.jobs.enqueue('batch', String(batchId), 'again')
    await world.app.jobs.idle()
    expect((await world.app.jobs.find(job.id))?.state).toBe('done')
    const papers = (await getSoundDetail(world.app, ids.crate, null)).papers
    expect(papers).toEqual(before)
    expect(papers).toHaveLength(1)
  })

  it('bring the others when one cannot be had', async () => {
    world.standins['tin-barn'].control.withdrawn = ['b1']
    const { jobId } = await bring([ids.ice, ids.owl])
    world.standins['tin-barn'].control.withdrawn = []
    expect(await world.app.jobs.find(jobId)).toMatchObject({
      state: 'done',
      message: '1 of 2 are here; the others failed.',
    })
  })

  it('an archive of a download that is not there is not there', async () => {
    expect((await call(filesRoute, 'GET', { params: { id: '99999' } })).status).toBe(404)
  })
})

describe('a part of a copy', () => {
  beforeAll(() => download(world.app, 'Bronze bell'))

  it('has the very samples of the copy', async () => {
    const { copy } = await getSoundDetail(world.app, ids.bell, null)
    const sha256 = copy?.sha256 ?? ''
    const response = await call(partRoute, 'GET', { params: { sha256 }, query: '?fromS=0.1&toS=0.25' })
    expect(response.headers.get('content-disposition')).toContain('Bronze bell')
    const part = readWav(new Uint8Array(await response.arrayBuffer()))
    const whole = readWav(fs.readFileSync(world.app.store.blobPath(sha256)))
    const from = Math.round(0.1 * whole.sampleRateHz)
    const length = Math.round(0.25 * whole.sampleRateHz) - from
    expect(part.sampleRateHz).toBe(whole.sampleRateHz)
    expect(part.channels).toEqual(whole.channels.map((channel) => channel.slice(from, from + length)))
  })

  it.each([
    ['?fromS=1&toS=0.5', 400],
    ['?fromS=x&toS=1', 400],
    ['?fromS=0', 400],
  ])('refuses %s', async (query, status) => {
    const { copy } = await getSoundDetail(world.app, ids.bell, null)
    expect((await call(partRoute, 'GET', { params: { sha256: copy?.sha256 ?? '' }, query })).status).toBe(status)
  })

  it('of a copy that is not there is not there', async () => {
    expect((await call(partRoute, 'GET', { params: { sha256: 'a'.repeat(64) }, query: '?fromS=0&toS=1' })).status).toBe(
      404,
    )
    expect((await call(partRoute, 'GET', { params: { sha256: '../x' }, query: '?fromS=0&toS=1' })).status).toBe(400)
  })
})

describe('what is there twice', () => {
  it('is told by the same file, the better papers first', async () => {
    const rows = await world.app.db
      .selectFrom('analyses')
      .select(['sound_id', 'audio_sha256'])
      .where('sound_id', 'in', [ids.bell, ids.owl])
      .execute()
    await edit({ do: 'keep', soundIds: [ids.bell, ids.owl] })
    const bell = rows.find(({ sound_id }) => sound_id === ids.bell)?.audio_sha256 ?? ''
    await world.app.db.updateTable('analyses').set({ audio_sha256: bell }).where('sound_id', '=', ids.owl).execute()
    const { duplicates } = await shelf()
    expect(duplicates).toEqual([{ soundIds: expect.arrayContaining([ids.bell, ids.owl]), how: 'same file' }])
  })
})

describe('file names', () => {
  it('follow the pattern that was set', async () => {
    await changeShell(world.app, { namePattern: '{source} - {title}' })
    await world.app.jobs.enqueue('download', String(await soundId(world.app, 'Radio hum')), 'x')
    await world.app.jobs.idle()
    const { copy } = await getSoundDetail(world.app, await soundId(world.app, 'Radio hum'), null)
    expect(copy?.fileName).toBe('Tin Barn Commons - Radio hum.wav')
  })
})
