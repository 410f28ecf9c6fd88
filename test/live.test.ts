// @module-tag long
import { describe, expect, it, vi } from 'vitest'
import { connectLibrary, setPaused } from '../src/server/accounts/connect-library'
import { enqueueCatchUps } from '../src/server/checks/catch-up'
import { listUnlistedSounds } from '../src/server/clearance/clearance-input'
import { todayIso } from '../src/server/database/open'
import { forgetLongUnseen, SEEN_KEPT_MS } from '../src/server/live/forget-unseen'
import { LiveListener } from '../src/server/live/live-listener'
import { LiveSearch, liveQueryOf } from '../src/server/live/live-search'
import type { Connector } from '../src/server/ports/connector'
import type { SearchesLive } from '../src/server/ports/live'
import { setSourceRemoved } from '../src/server/removal/remove-source'
import { findCurrentCheck, getFacts } from '../src/server/rows/check-facts'
import { loadSummaries } from '../src/server/sounds/search-sounds'
import { STANDIN_SECRETS } from '../src/standins/secrets'
import {
  bringExport,
  descriptionText,
  finishedTrack,
  hallForTests,
  makeVideo,
  mirrorAll,
  searched,
  sourceOf,
  worldForEach,
} from './world'

const hall = hallForTests()
const world = worldForEach('live', (first) => mirrorAll(first, ['tin-barn']))
const signal = new AbortController().signal
const HALL = 'quarry-hall'

async function connectHall(): Promise<void> {
  const of = { kind: 'described' as const, text: descriptionText(HALL) }
  const input = { of, name: 'Quarry Hall', address: hall().url, secrets: STANDIN_SECRETS[HALL] }
  const { id } = await connectLibrary(world().app, input, signal)
  expect(id).toBe(HALL)
  await world().app.jobs.idle()
}
const search = (q: string, after: string | null = null, live: SearchesLive = world().app.live) =>
  live.search({ sourceId: HALL, q, after }, signal)
const own = async (q: string) => (await searched(world().app, { q, sort: 'best', limit: 50, offset: 0 }, null)).sounds
const heardIds = async (): Promise<number[]> =>
  (
    await world()
      .app.db.selectFrom('analyses')
      .innerJoin('sounds', 'sounds.id', 'analyses.sound_id')
      .select('sounds.id')
      .where('source_id', '=', HALL)
      .orderBy('sounds.id')
      .execute()
  ).map(({ id }) => id)
const offered = async (id: number): Promise<boolean> =>
  (await world().app.db.selectFrom('sounds').select('withdrawn_at').where('id', '=', id).executeTakeFirstOrThrow())
    .withdrawn_at === null

describe('what a library is asked for', () => {
  it.each([
    ['gate dragged', { words: 'gate dragged' }],
    ['"gate dragged" -chapel', { words: 'gate dragged' }],
    ['gate [under 2 s]', { words: 'gate', maxLengthS: 2 }],
    ['gate [over 1 s] [effects]', { words: 'gate', minLengthS: 1, kind: 'effect' }],
    ['gate [effects or music]', { words: 'gate' }],
  ])('by “%s” is its words and the conditions that it may know', (q, query) => {
    expect(liveQueryOf(q)).toEqual(query)
  })

  it.each(['', '   ', '-door', '[under 2 s]', '-door [kept]'])('by “%s” is nothing', (q) => {
    expect(liveQueryOf(q)).toBeNull()
  })
})

describe('a library that is searched', () => {
  it('is connected without reading its catalogue, and what it answers is found, weighed and listed like everything else', async () => {
    await connectHall()
    expect(await sourceOf(world().app, HALL)).toMatchObject({
      live: true,
      connected: true,
      soundCount: 0,
      plan: 'Hall member',
    })
    expect(await own('gate dragged')).toEqual([])
    const { ids, total, next } = await search('gate dragged')
    expect([ids.length, total]).toEqual([24, 200])
    expect(next).not.toBeNull()
    const found = await own('gate dragged')
    expect(found.map(({ id }) => id).sort()).toEqual([...ids].sort())
    expect(found[0]).toMatchObject({ source: { id: HALL, name: 'Quarry Hall' }, print: null, cost: 'in your plan' })
    const licences = new Set(found.map(({ licence }) => licence))
    expect(licences).toEqual(new Set(['Hall members', 'CC BY']))
  })

  it('gives more, page after page, and no sound twice', async () => {
    await connectHall()
    const first = await search('gate dragged')
    const second = await search('gate dragged', first.next)
    expect(new Set([...first.ids, ...second.ids]).size).toBe(48)
    expect(await own('gate dragged')).toHaveLength(48)
    expect((await search('gate dragged', null)).ids).toEqual(first.ids)
  })

  it('is not asked the same again for some minutes, and then it is', async () => {
    await connectHall()
    let nowMs = Date.now()
    const live = new LiveSearch(world().app, () => nowMs)
    const asked = vi.spyOn(world().app.accounts.connector(HALL) as Required<Pick<Connector, 'search'>>, 'search')
    await search('bell struck', null, live)
    await search('bell  struck', null, live)
    expect(asked).toHaveBeenCalledTimes(1)
    nowMs += 6 * 60_000
    await search('bell struck', null, live)
    expect(asked).toHaveBeenCalledTimes(2)
  })

  it('that is down says so, leaves the rest as it is, and is asked again the next time', async () => {
    await connectHall()
    const before = await own('ice')
    hall().control.fault = 'error'
    await expect(search('ice struck')).rejects.toMatchObject({ code: 'down' })
    expect(await own('ice')).toEqual(before)
    hall().control.fault = 'garbage'
    await expect(search('ice struck')).rejects.toMatchObject({ code: 'nonsense' })
    hall().control.fault = 'none'
    expect((await search('ice struck')).ids).toHaveLength(24)
  })

  it('is not asked while it is paused, nor once it is disconnected', async () => {
    await connectHall()
    const { ids } = await search('anvil')
    await setPaused(world().app, { id: HALL, paused: true })
    await expect(search('anvil dropped')).rejects.toThrow()
    expect(await own('anvil')).not.toEqual([])
    await setPaused(world().app, { id: HALL, paused: false })
    await setSourceRemoved(world().app, { id: HALL, removed: true })
    await expect(search('anvil dropped')).rejects.toMatchObject({ code: 'not-found' })
    expect(await offered(ids[0] as number)).toBe(false)
    // Connected anew, its sounds are back when they are answered, however lately they were.
    await mirrorAll(world(), [HALL])
    expect((await search('anvil')).ids).toEqual(ids)
    expect(await offered(ids[0] as number)).toBe(true)
    await expect(
      world().app.live.search({ sourceId: 'tin-barn', q: 'ice', after: null }, signal),
    ).rejects.toMatchObject({
      code: 'not-found',
    })
  })

  it('whose terms changed is weighed by those of today from its next sync on; what was taken before keeps its own', async () => {
    await connectHall()
    const { ids } = await search('gate dragged')
    const member = (await loadSummaries(world().app, ids, null)).find(({ licence }) => licence === 'Hall members')
      ?.id as number
    await world().app.jobs.enqueue('download', String(member), 'A gate')
    await world().app.jobs.idle()
    const versionOf = async () =>
      await world()
        .app.db.selectFrom('sounds')
        .innerJoin('terms', 'terms.id', 'sounds.terms_id')
        .select(['version', 'clauses_json'])
        .where('sounds.id', '=', member)
        .executeTakeFirstOrThrow()
    expect((await versionOf()).version).toBe('4')
    hall().control.edition = 5
    await mirrorAll(world(), [HALL])
    const { version, clauses_json } = await versionOf()
    expect(version).toBe('5')
    expect(clauses_json).toContain('{maker}, Quarry Hall')
    // What is seen from here on is under those of today, and what is seen again does not go back to those of before.
    await search('gate dragged')
    expect((await versionOf()).version).toBe('5')
    const more = await search('gate rolled')
    const versions = await world()
      .app.db.selectFrom('sounds')
      .innerJoin('terms', 'terms.id', 'sounds.terms_id')
      .select('version')
      .distinct()
      .where('sounds.id', 'in', more.ids)
      .where('terms.key', '=', 'members')
      .execute()
    expect(versions).toEqual([{ version: '5' }])
    const grant = await world()
      .app.db.selectFrom('grants')
      .innerJoin('terms', 'terms.id', 'grants.terms_id')
      .select(['version', 'order_ref'])
      .where('sound_id', '=', member)
      .executeTakeFirstOrThrow()
    expect(grant).toEqual({ version: '4', order_ref: 'T-1000' })
  })
})

describe('listening to what is shown', () => {
  it('analyses those sounds and no others, and says how many are still to come', async () => {
    await connectHall()
    const { ids } = await search('gate dragged')
    const shown = ids.slice(0, 5)
    const { app } = world()
    expect(await app.liveListener.want(shown)).toBe(5)
    await vi.waitFor(async () => expect(await heardIds()).toHaveLength(5), { timeout: 60_000, interval: 200 })
    expect(await heardIds()).toEqual([...shown].sort((a, b) => a - b))
    expect(await app.liveListener.want(shown)).toBe(0)
    const [summary] = await loadSummaries(app, [shown[0] as number], null)
    expect(summary?.print).not.toBeNull()
    expect(summary?.loudnessLufs).toBeLessThan(0)
  })

  it('of one that somebody wants to hear now does not wait for the others', async () => {
    await connectHall()
    const { ids } = await search('gate dragged')
    const last = ids.at(-1) as number
    await world().app.liveListener.want(ids)
    await world().app.liveListener.hearNow(last)
    expect(await heardIds()).toContain(last)
    expect((await heardIds()).length).toBeLessThan(ids.length)
  })

  it('does not ask again and again for what cannot be had, and leaves mirrored libraries to their sync', async () => {
    await connectHall()
    const { ids } = await search('gate dragged')
    const [one = 0] = ids
    let nowMs = Date.now()
    const listener = new LiveListener(
      world().app,
      () => {},
      () => nowMs,
    )
    hall().control.fault = 'error'
    await listener.hearNow(one)
    expect(await listener.want([one])).toBe(0)
    hall().control.fault = 'none'
    nowMs += 3 * 60_000
    expect(await listener.want([one])).toBe(1)
    await listener.close()
    await world().app.db.deleteFrom('likeness').execute()
    const barn = await world().app.db.selectFrom('sounds').select('id').where('source_id', '=', 'tin-barn').execute()
    await world()
      .app.db.deleteFrom('analyses')
      .where(
        'sound_id',
        'in',
        barn.map(({ id }) => id),
      )
      .execute()
    expect(await world().app.liveListener.want(barn.map(({ id }) => id))).toBe(0)
  })
})

describe('a finished video', () => {
  it('is not in doubt because somebody searched; what is taken of the answers is listened for at once', async () => {
    await connectHall()
    const { app } = world()
    const videoId = await makeVideo(app, 'Searched after')
    await bringExport(app, videoId, finishedTrack(4, [['b1', 1, -6]]))
    const state = async () => {
      const { factsSha256 } = await findCurrentCheck(app.db, videoId)
      const facts = await getFacts(app.db, factsSha256 as string)
      return { unlisted: await listUnlistedSounds(app.db, facts), facts }
    }
    const { ids } = await search('gate dragged')
    const [one = 0, two = 0] = ids
    await app.liveListener.hearNow(one)
    expect(await heardIds()).toEqual([one])
    expect((await state()).unlisted).toEqual([])
    await enqueueCatchUps(app)
    await app.jobs.idle()
    expect((await state()).facts.reference.listenedFor.map(([id]) => id)).not.toContain(one)
    // What was only named in an answer is no sound that could not be listened for.
    await bringExport(app, videoId, finishedTrack(5, [['b1', 1, -6]]), 'again.wav')
    const whole = await state()
    expect(whole.facts.reference.listenedFor.map(([id]) => id)).toContain(one)
    expect(JSON.stringify(whole.facts.reference.notListenedFor)).not.toMatch(new RegExp(`\\b${two}\\b`))
    await app.jobs.enqueue('download', String(two), 'A gate')
    await app.jobs.idle()
    expect((await state()).facts.reference.listenedFor.map(([id]) => id)).toContain(two)
  })
})

describe('what was seen', () => {
  it('leaves the search after a month, unless it is kept, taken or named in a video, and is back once it is answered again', async () => {
    await connectHall()
    const { app } = world()
    const { ids } = await search('gate dragged')
    const [kept = 0, taken = 0, named = 0, gone = 0] = ids
    await app.db.insertInto('keeps').values({ sound_id: kept, note: '', kept_at: todayIso() }).execute()
    await app.jobs.enqueue('download', String(taken), 'A gate')
    await app.jobs.idle()
    const videoId = await makeVideo(app, 'A gate in the night')
    const document = { moments: [{ id: 'm1', soundId: null, shortList: [{ soundId: named }] }] }
    await app.db
      .insertInto('moment_documents')
      .values({
        video_id: videoId,
        revision: 1,
        document_json: JSON.stringify(document),
        cut_id: null,
        changed_at: todayIso(),
      })
      .execute()
    expect(await forgetLongUnseen(app.db, Date.now() + SEEN_KEPT_MS - 60_000)).toBe(0)
    expect(await forgetLongUnseen(app.db, Date.now() + SEEN_KEPT_MS + 60_000)).toBe(ids.length - 3)
    expect(await Promise.all([kept, taken, named, gone].map(offered))).toEqual([true, true, true, false])
    expect((await own('gate dragged')).map(({ id }) => id).sort()).toEqual([kept, taken, named].sort())
    const again = await new LiveSearch(app).search({ sourceId: HALL, q: 'gate dragged', after: null }, signal)
    expect(again.ids).toEqual(ids)
    expect(await own('gate dragged')).toHaveLength(24)
  })
})
