import fs from 'node:fs'
import path from 'node:path'
import { Readable } from 'node:stream'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { previewOf } from '../demo/synthesis/encode'
import type { CheckDetail, PointWire } from '../src/contract'
import { stateInWords } from '../src/core/clearance'
import { writeWav } from '../src/core/formats/wav'
import { setPaused } from '../src/server/accounts/connect-library'
import { enqueueCatchUps } from '../src/server/checks/catch-up'
import { answerPoint } from '../src/server/clearance/answers'
import { getCheckDetail } from '../src/server/clearance/check-detail'
import { todayIso } from '../src/server/database/open'
import { type CatalogueSound, type Connector, SourceError } from '../src/server/ports/connector'
import { setSourceRemoved } from '../src/server/removal/remove-source'
import { requireFreeName } from '../src/server/rows/free-name'
import { mirrorSource } from '../src/server/sources/mirror'
import { listVideos } from '../src/server/videos/videos'
import {
  bringExport,
  download,
  makeLibraries,
  makeVideo,
  mirrorAll,
  openWorldOfLibraries,
  RATE_HZ,
  soundId,
  soundSamples,
  sourceOf,
  temporaryDir,
  type World,
} from './world'

const libraries = temporaryDir('listed-libraries')
let world: World
let film: { readonly videoId: number; readonly checkId: number }

beforeAll(async () => {
  await makeLibraries(libraries)
  world = await openWorldOfLibraries('listed', libraries)
  // Listed later.
  world.barn.control.withdrawn = ['b2', 'b3', 'b4']
  await mirrorAll(world, ['tin-barn'])
  const videoId = await makeVideo(world.app, 'Checked before')
  const bytes = writeWav({ sampleRateHz: RATE_HZ, channels: [new Float32Array(4 * RATE_HZ)] })
  film = { videoId, checkId: (await bringExport(world.app, videoId, bytes)).checkId }
})
afterAll(() => world.close())

const source = (id: string) => sourceOf(world.app, id)
const detail = (): Promise<CheckDetail> => getCheckDetail(world.app, film.checkId, todayIso())

/** The state of the film: the one that is kept for lists must be that of its page. */
async function state(): Promise<string> {
  const words = stateInWords((await detail()).videoState)
  const row = (await listVideos(world.app, todayIso())).find(({ id }) => id === film.videoId)
  expect(row && stateInWords(row.state)).toBe(words)
  return words
}

async function openPoints(): Promise<PointWire[]> {
  return (await detail()).points.filter(({ isOpen }) => isOpen)
}

const previewFile = (id: string): string => path.join(libraries, 'tin-barn', `${id}.preview.ogg`)

describe('a sound that is listed after a check', () => {
  it('keeps the video from being ready where its preview cannot be had, until that is accepted', async () => {
    expect(await state()).toBe('ready')
    const preview = fs.readFileSync(previewFile('b2'))
    fs.writeFileSync(previewFile('b2'), 'no sound at all')
    world.barn.control.withdrawn = ['b3', 'b4']
    await mirrorAll(world, ['tin-barn'])
    fs.writeFileSync(previewFile('b2'), preview)
    expect(await state()).toBe('partly examined')
    const id = await soundId(world.app, 'Radio hum')
    const [point, ...others] = await openPoints()
    expect(others).toEqual([])
    expect(point).toMatchObject({ kind: 'not-listened-for', soundIds: [id], answerKinds: ['accepted'] })
    const { notExamined, factsSha256 } = await detail()
    expect(notExamined.map(({ soundId: one }) => one)).toEqual([id])
    expect(notExamined[0]?.reason).not.toBe('')
    // Nothing more is to be done for it: the look for new sounds is not queued again and again.
    await enqueueCatchUps(world.app)
    await world.app.jobs.idle()
    expect((await detail()).factsSha256).toBe(factsSha256)
    const { kind: pointKind, trackIndex, places, soundIds } = point as PointWire
    const accepted = { pointKind, trackIndex, places, soundIds, kind: 'accepted', fromSoundId: null } as const
    await answerPoint(world.app, film.videoId, { ...accepted, by: 'Ann', reason: 'It is a hum.' }, todayIso())
    expect(await state()).toBe('ready, with 1 point accepted by Ann')
  })

  it('is listened for by itself once it can be, and counts for good where it is too short to be heard', async () => {
    const samples = soundSamples('b3').subarray(0, 0.05 * RATE_HZ)
    fs.writeFileSync(previewFile('b3'), await previewOf([samples]))
    world.barn.control.withdrawn = ['b4']
    await mirrorAll(world, ['tin-barn'])
    expect(await state()).toBe('partly examined')
    const { notExamined } = await detail()
    expect(notExamined.map(({ title }) => title)).toEqual(['Dull thud'])
    expect(notExamined[0]?.reason).toBe('It is too short to be heard for sure.')
  })

  it('counts while its audio is still to be fetched, and no more once it is not offered', async () => {
    const { db } = world.app
    const sound = db.selectFrom('sounds').selectAll().where('title', '=', 'Ice crack')
    const { id: _, ...row } = await sound.executeTakeFirstOrThrow()
    const late = { ...row, title: 'Late', external_id: 'late' }
    const { id } = await db.insertInto('sounds').values(late).returning('id').executeTakeFirstOrThrow()
    const grown = async (): Promise<readonly number[]> =>
      (await openPoints()).find(({ kind }) => kind === 'list-grew')?.soundIds ?? []
    expect(await grown()).toEqual([id])
    const change = (values: { withdrawn_at?: string | null; generation?: number }) =>
      db.updateTable('sounds').set(values).where('id', '=', id).execute()
    // One that a sync has put down and that is not shown yet is not listed.
    await change({ generation: row.generation + 1000 })
    expect(await grown()).toEqual([])
    await change({ generation: row.generation })
    // What a library that is searched answered is no more listed than the rest that it has.
    await db.insertInto('live_seen').values({ sound_id: id, seen_at: row.updated_at }).execute()
    expect(await grown()).toEqual([])
    await db.deleteFrom('live_seen').where('sound_id', '=', id).execute()
    expect(await grown()).toEqual([id])
    await change({ withdrawn_at: row.updated_at })
    expect(await grown()).toEqual([])
  })
})

describe('a recording that its library replaced', () => {
  const REPLACED = 1.7
  /** What the library hands out in its place. */
  const other = (): Float32Array => {
    const samples = new Float32Array(REPLACED * RATE_HZ)
    samples.set(soundSamples('another one'))
    return samples
  }
  let checkId: number
  beforeAll(async () => {
    const track = new Float32Array(4 * RATE_HZ)
    track.set(other(), RATE_HZ)
    const videoId = await makeVideo(world.app, 'With the other recording')
    const bytes = writeWav({ sampleRateHz: RATE_HZ, channels: [track] })
    checkId = (await bringExport(world.app, videoId, bytes, 'other.wav')).checkId
  })
  const ofFilm = (): Promise<CheckDetail> => getCheckDetail(world.app, checkId, todayIso())

  /** Syncs with a library that tells something else of “Ice crack” than before. */
  async function syncWith(told: Partial<CatalogueSound>, preview: Connector['preview']): Promise<void> {
    const barn = world.app.connector('tin-barn')
    const { changes: _, ...whole } = barn
    const connector: Connector = {
      ...whole,
      preview,
      page: async (after, signal) => {
        const page = await barn.page(after, signal)
        return { ...page, sounds: page.sounds.map((one) => (one.title === 'Ice crack' ? { ...one, ...told } : one)) }
      },
    }
    const { signal } = new AbortController()
    const context = { job: {} as never, format: null, signal, report: () => undefined }
    await mirrorSource({ ...world.app, connector: () => connector }, 'tin-barn', context)
    await enqueueCatchUps(world.app)
    await world.app.jobs.idle()
  }
  const asked: string[] = []
  const previewOfOther: Connector['preview'] = async (ref) => {
    asked.push(ref)
    return { body: Readable.from([Buffer.from(await previewOf([other()]))]), mime: 'audio/ogg', ending: 'ogg' }
  }

  it('is not asked for anew for what changes with every answer', async () => {
    const { preview_ref } = await world.app.db
      .selectFrom('sounds')
      .select('preview_ref')
      .where('title', '=', 'Ice crack')
      .executeTakeFirstOrThrow()
    await syncWith({ previewRef: `${preview_ref}?signed=1` }, previewOfOther)
    expect(asked).toEqual([])
    expect((await ofFilm()).findings).toEqual([])
  })

  it('is listened for by itself in every video, and counts as not listened for while it cannot be had', async () => {
    const id = await soundId(world.app, 'Ice crack')
    await syncWith({ durationS: REPLACED }, async () => {
      throw new SourceError('gone', 'It is not there.')
    })
    const before = await ofFilm()
    expect(before.points.find(({ kind }) => kind === 'not-listened-for')?.soundIds).toContain(id)
    expect(before.findings).toEqual([])
    await syncWith({ durationS: REPLACED }, previewOfOther)
    expect(asked).toHaveLength(1)
    const after = await ofFilm()
    expect(after.findings.map(({ title }) => title)).toEqual(['Ice crack'])
    expect(after.points.find(({ kind }) => kind === 'not-listened-for')?.soundIds).not.toContain(id)
  })

  it('stays what it is where its file is here', async () => {
    await download(world.app, 'Ice crack')
    const audio = async () =>
      world.app.db
        .selectFrom('analyses')
        .select(['audio_sha256', 'feature_version'])
        .where('sound_id', '=', await soundId(world.app, 'Ice crack'))
        .executeTakeFirstOrThrow()
    const before = await audio()
    await syncWith({ durationS: 2 }, previewOfOther)
    expect(await audio()).toEqual(before)
    expect(asked).toHaveLength(1)
  })
})

describe('a library that could not be read yet', () => {
  const unread = async (): Promise<PointWire | undefined> =>
    (await openPoints()).find(({ kind }) => kind === 'unread-source')

  it('keeps every video from being ready, but for one that nobody asked for, until it is read or paused', async () => {
    const { app, heron } = world
    expect(await unread()).toBeUndefined()
    heron.control.fault = 'error'
    await expect(mirrorAll(world, ['heron-slate'])).rejects.toThrow()
    expect((await unread())?.sentence).toBe(
      'Nothing of Heron & Slate was listened for: it was not read to the end yet. Sync it again, or pause or remove it if it should not count.',
    )
    expect((await unread())?.answerKinds).toEqual([])
    expect(await state()).toBe('partly examined')
    await setPaused(app, { id: 'heron-slate', paused: true })
    expect(await unread()).toBeUndefined()
    await state()
    await setPaused(app, { id: 'heron-slate', paused: false })
    expect(await unread()).toBeDefined()
    await state()
    await setSourceRemoved(app, { id: 'heron-slate', removed: true })
    expect(await unread()).toBeUndefined()
    await state()
    // It is set up by whoever starts the application: an offer again.
    expect(await source('heron-slate')).toMatchObject({ connected: false, mayBeRemoved: false, lastError: null })
    await expect(mirrorAll(world, ['heron-slate'])).rejects.toThrow()
    expect(await unread()).toBeDefined()
    expect(await state()).toBe('partly examined')
    expect((await source('heron-slate'))?.mayBeRemoved).toBe(true)
    heron.control.fault = 'none'
    await mirrorAll(world, ['heron-slate'])
    expect(await unread()).toBeUndefined()
    expect((await openPoints()).map(({ kind }) => kind)).toEqual(['not-listened-for'])
    expect((await detail()).listenedFor).toBe(20)
  })

  it('is gone from the list once it is removed, with its name, and can be brought back while nothing has that', async () => {
    const { app } = world
    const id = 'mill'
    const failed = { id, name: 'Mill Race', about: '', connected: 0, plan: '', description_json: '{}' }
    await app.db
      .insertInto('sources')
      .values({ ...failed, last_error: 'Mill Race refused the sign-in.' })
      .execute()
    expect((await unread())?.sentence).toContain('Mill Race')
    expect((await source(id))?.mayBeRemoved).toBe(true)
    await expect(requireFreeName(app.db, 'mill race')).rejects.toMatchObject({ code: 'name-taken' })
    await setSourceRemoved(app, { id, removed: true })
    expect(await source(id)).toBeUndefined()
    expect(await unread()).toBeUndefined()
    await expect(setSourceRemoved(app, { id, removed: true })).rejects.toMatchObject({ code: 'not-found' })
    await requireFreeName(app.db, 'mill race')
    await app.db
      .insertInto('sources')
      .values({ ...failed, id: 'mill-2', name: 'MILL RACE' })
      .execute()
    await expect(setSourceRemoved(app, { id, removed: false })).rejects.toMatchObject({ code: 'name-taken' })
    expect(await source(id)).toBeUndefined()
    await setSourceRemoved(app, { id: 'mill-2', removed: true })
    await setSourceRemoved(app, { id, removed: false })
    // It is no more connected than it was.
    expect(await source(id)).toMatchObject({ connected: false, mayBeRemoved: true })
    await app.db.deleteFrom('sources').where('id', 'in', [id, 'mill-2']).execute()
  })

  it('is told from one that cannot be synced any more, and from one that is only searched, of which a part is known', async () => {
    const { app, heron } = world
    expect(await detail()).toMatchObject({ searchedLive: [], notSynced: [] })
    heron.control.fault = 'error'
    await expect(mirrorAll(world, ['heron-slate'])).rejects.toThrow()
    expect(await unread()).toBeUndefined()
    expect((await detail()).notSynced).toEqual([{ name: 'Heron & Slate', since: todayIso() }])
    heron.control.fault = 'none'
    await mirrorAll(world, ['heron-slate'])
    const wide = { id: 'wide', name: 'Wide Fen', about: '', connected: 0, plan: '', description_json: '{"search":{}}' }
    await app.db.insertInto('sources').values(wide).execute()
    expect((await detail()).searchedLive).toEqual([])
    await app.db.updateTable('sources').set({ connected: 1 }).where('id', '=', 'wide').execute()
    expect(await detail()).toMatchObject({ searchedLive: ['Wide Fen'], notSynced: [] })
  })
})
