// @module-tag long
import fs from 'node:fs'
import path from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { todayIso } from '../src/server/database/open'
import { listLedgerEntries, verifyLedger } from '../src/server/ledger/ledger'
import { replayLedger } from '../src/server/ledger/replay'
import { setRemoved } from '../src/server/removal/remove'
import { listRemoved } from '../src/server/removal/removed'
import { measureRoom, sweep } from '../src/server/removal/room'
import { getVideo, listVideoFiles, listVideos } from '../src/server/videos/videos'
import { bringExport, finishedTrack, makeVideo, mirrorAll, openWorld, soundId, type World } from './world'

let world: World
beforeAll(async () => {
  world = await openWorld('removal')
  await mirrorAll(world, ['tin-barn'])
  await world.app.jobs.enqueue('download', String(await soundId(world.app, 'Ice crack')), 'Ice crack')
  await world.app.jobs.idle()
})
afterAll(() => world.close())

const DAY_MS = 24 * 3600 * 1000
const signal = new AbortController().signal
const video = (title: string): Promise<number> => makeVideo(world.app, title)

function bring(videoId: number, seconds: number, name = 'film.wav'): Promise<{ exportId: number; checkId: number }> {
  return bringExport(world.app, videoId, finishedTrack(seconds, [['b1', 1, -6]]), name)
}

async function blobOf(exportId: number): Promise<string> {
  const { sha256 } = await world.app.db
    .selectFrom('exports')
    .select('sha256')
    .where('id', '=', exportId)
    .executeTakeFirstOrThrow()
  return world.app.store.blobPath(sha256)
}

describe('removing', () => {
  it('takes a video out of all lists, and it can be brought back as it was', async () => {
    const id = await video('Removed and back')
    await bring(id, 3)
    const before = await getVideo(world.app, id, todayIso())
    await setRemoved(world.app, 'videos', { id, removed: true })
    expect((await listVideos(world.app, todayIso())).map((one) => one.id)).not.toContain(id)
    await expect(getVideo(world.app, id, todayIso())).rejects.toMatchObject({ code: 'not-found' })
    await setRemoved(world.app, 'videos', { id, removed: false })
    expect(await getVideo(world.app, id, todayIso())).toEqual(before)
  })

  it('of the newest file lets the one before it count again', async () => {
    const id = await video('Two files')
    await bring(id, 3, 'first.wav')
    const first = await getVideo(world.app, id, todayIso())
    const second = await bring(id, 4, 'second.wav')
    expect((await getVideo(world.app, id, todayIso())).check?.id).toBe(second.checkId)
    await setRemoved(world.app, 'exports', { id: second.exportId, removed: true })
    expect(await getVideo(world.app, id, todayIso())).toEqual(first)
    expect((await listVideoFiles(world.app, id)).map(({ fileName }) => fileName)).toEqual(['first.wav'])
  })

  it('of the check alone leaves the file, not checked', async () => {
    const id = await video('No check')
    const { checkId } = await bring(id, 3)
    await setRemoved(world.app, 'checks', { id: checkId, removed: true })
    expect(await getVideo(world.app, id, todayIso())).toMatchObject({ state: { kind: 'not-checked' }, check: null })
    expect(await listVideoFiles(world.app, id)).toHaveLength(1)
  })

  it('is told for a month with what it belongs to, and not twice under a removed video', async () => {
    const id = await video('Told')
    const { exportId, checkId } = await bring(id, 3, 'told.wav')
    const names = async (nowMs: number) =>
      (await listRemoved(world.app, nowMs)).removed
        .filter(({ name, videoTitle }) => name === 'Told' || videoTitle === 'Told')
        .map(({ what, name }) => `${what} ${name}`)
    const now = Date.now() + 1000
    expect(await names(now)).toEqual([])
    await setRemoved(world.app, 'checks', { id: checkId, removed: true })
    expect(await names(now)).toEqual(['checks told.wav'])
    await setRemoved(world.app, 'exports', { id: exportId, removed: true })
    expect(await names(now)).toEqual(['exports told.wav'])
    await setRemoved(world.app, 'videos', { id, removed: true })
    expect(await names(now)).toEqual(['videos Told'])
    expect(await names(now + 30 * DAY_MS)).toEqual([])
    await setRemoved(world.app, 'videos', { id, removed: false })
    expect(await names(now)).toEqual(['exports told.wav'])
  })

  it.each(['videos', 'exports', 'checks'] as const)('of %s that are not there is refused', async (what) => {
    await expect(setRemoved(world.app, what, { id: 99_999, removed: true })).rejects.toMatchObject({
      code: 'not-found',
    })
  })
})

describe('the sweep', () => {
  it('takes away what was removed a month ago and what nothing names, and leaves papers, copies and the ledger', async () => {
    const id = await video('Swept')
    const { exportId, checkId } = await bring(id, 5)
    const film = await blobOf(exportId)
    const stray = world.app.store.blobPath('ab'.repeat(32))
    fs.mkdirSync(path.dirname(stray), { recursive: true })
    fs.writeFileSync(stray, 'left behind')
    const prepared = ['features', 'templates', 'decoy'].map((ending) =>
      path.join(world.app.store.dataDir, 'features', `${'ab'.repeat(32)}.${ending}`),
    )
    for (const file of prepared) fs.writeFileSync(file, 'left behind')
    const copies = await world.app.db.selectFrom('grants').select(['copy_sha256', 'served_sha256']).execute()
    const entries = (await verifyLedger(world.app.db)).entries
    const now = Date.now()
    await setRemoved(world.app, 'videos', { id, removed: true })
    // Within the month all of it stays, and so does a file that may be on its way in.
    await sweep(world.app, { nowMs: now, signal })
    expect([fs.existsSync(film), fs.existsSync(stray)]).toEqual([true, true])
    await sweep(world.app, { nowMs: now + 2 * DAY_MS, signal })
    expect([fs.existsSync(film), fs.existsSync(stray)]).toEqual([true, false])
    expect(prepared.filter((file) => fs.existsSync(file))).toEqual([])
    const { files, bytes } = await sweep(world.app, { nowMs: now + 31 * DAY_MS, signal })
    expect(fs.existsSync(film)).toBe(false)
    expect(files).toBeGreaterThan(0)
    expect(bytes).toBeGreaterThan(100_000)
    for (const { copy_sha256, served_sha256 } of copies)
      for (const sha256 of [copy_sha256, served_sha256]) if (sha256) expect(world.app.store.has(sha256)).toBe(true)
    const after = await verifyLedger(world.app.db)
    expect(after).toMatchObject({ broken: null, entries: entries + 1 })
    const last = (await listLedgerEntries(world.app.db, entries)).at(-1)
    expect(last).toMatchObject({
      kind: 'cleared-away',
      body: { videos: expect.arrayContaining([id]), checks: expect.arrayContaining([checkId]) },
    })
    // What is rightly gone is not missed.
    expect(await replayLedger(world.app)).toEqual([])
    expect(await world.app.db.selectFrom('videos').select('id').where('id', '=', id).execute()).toEqual([])
  })

  it('is seen in what takes room', async () => {
    const stray = world.app.store.blobPath('cd'.repeat(32))
    fs.mkdirSync(path.dirname(stray), { recursive: true })
    fs.writeFileSync(stray, Buffer.alloc(5000))
    const { items, freeBytes } = await measureRoom(world.app)
    const of = (what: string) => items.find((item) => item.what === what)
    expect(of('unused')).toEqual({ what: 'unused', bytes: 5000, count: 1 })
    expect(of('copies')?.count).toBeGreaterThan(0)
    expect(of('previews')?.count).toBeGreaterThan(0)
    expect(of('database')?.bytes).toBeGreaterThan(0)
    expect(freeBytes).toBeGreaterThan(0)
    fs.rmSync(stray)
  })
})
