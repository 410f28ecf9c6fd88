import { createHash } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { z } from 'zod'
import {
  CheckDetail,
  CheckFactsSchema,
  Job,
  JobList,
  JobStarted,
  Problem,
  RemovalInput,
  RemovedThings,
  Room,
  ShellState,
  SoundDetail,
  SoundPage,
  SourceList,
  TermsText,
  UploadDone,
  Video,
  VideoFiles,
  VideoList,
} from '../src/contract'
import * as answerRoute from '../src/pages/api/answers/[id]'
import * as factsRoute from '../src/pages/api/checks/[id]/facts'
import * as checkRoute from '../src/pages/api/checks/[id]/index'
import * as checkRemovalRoute from '../src/pages/api/checks/[id]/removal'
import * as copyRoute from '../src/pages/api/copies/[sha256]/index'
import * as exportFileRoute from '../src/pages/api/exports/[id]/index'
import * as exportRemovalRoute from '../src/pages/api/exports/[id]/removal'
import * as healthRoute from '../src/pages/api/health'
import * as jobRoute from '../src/pages/api/jobs/[id]/index'
import * as eventsRoute from '../src/pages/api/jobs/events'
import * as jobsRoute from '../src/pages/api/jobs/index'
import * as removedRoute from '../src/pages/api/removed'
import * as roomRoute from '../src/pages/api/room/index'
import * as audioRoute from '../src/pages/api/sounds/[id]/audio'
import * as downloadRoute from '../src/pages/api/sounds/[id]/download'
import * as soundRoute from '../src/pages/api/sounds/[id]/index'
import * as soundsRoute from '../src/pages/api/sounds/index'
import * as syncRoute from '../src/pages/api/sources/[id]/sync'
import * as sourcesRoute from '../src/pages/api/sources/index'
import * as stateRoute from '../src/pages/api/state'
import * as termsRoute from '../src/pages/api/terms/[id]/index'
import * as answersRoute from '../src/pages/api/videos/[id]/answers'
import * as againRoute from '../src/pages/api/videos/[id]/check'
import * as exportRoute from '../src/pages/api/videos/[id]/export'
import * as filesRoute from '../src/pages/api/videos/[id]/files'
import * as videoRoute from '../src/pages/api/videos/[id]/index'
import * as videoRemovalRoute from '../src/pages/api/videos/[id]/removal'
import * as videosRoute from '../src/pages/api/videos/index'
import { call, serveApp, value } from './call'
import { download, finishedTrack, makeVideo, mirrorAll, openWorld, soundId, type World } from './world'

let world: World
/** The state before anything was done, and a video that every case may ask for. */
let atFirst: ShellState
let filmId: string
beforeAll(async () => {
  world = await openWorld('api')
  serveApp(world.app)
  await mirrorAll(world)
  atFirst = await value(ShellState, stateRoute, 'GET')
  filmId = String(await makeVideo(world.app))
})
afterAll(() => world.close())

const INPUT = {
  title: 'Film',
  uses: { places: ['online'], earns: false, territory: 'worldwide', publishOn: '2030-01-01', videoLicence: null },
}

describe('every route answers by its contract', () => {
  it('health', async () => {
    expect(await value(z.object({ ok: z.literal(true) }), healthRoute, 'GET')).toMatchObject({ ok: true })
  })

  it('state, read and changed', async () => {
    expect(atFirst).toMatchObject({ soundCount: 22, connectedSources: 2, videoInHandId: null })
    expect(await value(ShellState, stateRoute, 'PATCH', { body: { licensee: '  Small Hours ' } })).toMatchObject({
      licensee: 'Small Hours',
    })
    expect(await value(ShellState, stateRoute, 'GET')).toMatchObject({ licensee: 'Small Hours' })
  })

  it('videos: made, listed, read, changed, taken in hand', async () => {
    const made = await value(Video, videosRoute, 'POST', { body: INPUT })
    expect(made).toMatchObject({ title: 'Film', check: null })
    expect((await value(VideoList, videosRoute, 'GET')).videos.map(({ id }) => id)).toContain(made.id)
    const params = { id: String(made.id) }
    const changed = await value(Video, videoRoute, 'PUT', {
      params,
      body: { ...INPUT, title: 'Better', uses: { ...INPUT.uses, territory: 'de, fr' } },
    })
    expect(changed).toMatchObject({ title: 'Better', uses: { territory: 'DE,FR' } })
    expect(await value(Video, videoRoute, 'GET', { params })).toEqual(changed)
    expect(await value(ShellState, stateRoute, 'PATCH', { body: { videoInHandId: made.id } })).toMatchObject({
      videoInHandId: made.id,
    })
  })

  it('sounds: searched, read, heard in parts', async () => {
    const page = await value(SoundPage, soundsRoute, 'GET', { query: '?q=bell&limit=5' })
    expect(page.sounds.map(({ title }) => title)).toEqual(['Bronze bell'])
    expect(page.sounds[0]?.print?.levelsBase64.length).toBeGreaterThan(50)
    const params = { id: String(page.sounds[0]?.id) }
    const headers = { 'X-Video-In-Hand': filmId }
    const detail = await value(SoundDetail, soundRoute, 'GET', { params, headers })
    expect(detail.reasons.length).toBeGreaterThan(3)
    const audio = await call(audioRoute, 'GET', { params, headers: { Range: 'bytes=0-3' } })
    expect(audio.status).toBe(206)
    expect(audio.headers.get('content-type')).toBe('audio/ogg')
    expect(await audio.text()).toBe('OggS')
  })

  it('download: queued once, then here as a file to save', async () => {
    const params = { id: String(await soundId(world.app, 'Radio hum')) }
    const body = { format: null }
    const other = await call(downloadRoute, 'POST', { params, body: { format: 'mp3' } })
    expect(await other.json()).toMatchObject({ code: 'not-offered', detail: 'This sound is offered as WAV only.' })
    const started = await value(JobStarted, downloadRoute, 'POST', { params, body })
    expect(started.already).toBe(false)
    await world.app.jobs.idle()
    expect(await value(JobStarted, downloadRoute, 'POST', { params, body })).toEqual({ jobId: null, already: true })
    const { copy } = await value(SoundDetail, soundRoute, 'GET', { params })
    const file = await call(copyRoute, 'GET', { params: { sha256: copy?.sha256 ?? '' } })
    expect(file.headers.get('content-disposition')).toContain('Radio hum - brackwater - Tin Barn Commons.wav')
    expect((await file.arrayBuffer()).byteLength).toBe(copy?.sizeBytes)
  })

  it('download: in the format that was chosen, with its papers and its rights in the file', async () => {
    const params = { id: String(await soundId(world.app, 'Servo number 4')) }
    const before = await value(SoundDetail, soundRoute, 'GET', { params })
    expect(before.formats).toEqual(['wav', 'ogg'])
    await value(JobStarted, downloadRoute, 'POST', { params, body: { format: 'ogg' } })
    await world.app.jobs.idle()
    const { copy, papers } = await value(SoundDetail, soundRoute, 'GET', { params })
    expect(copy?.fileName).toMatch(/^Servo number 4 - .* - Heron & Slate\.ogg$/)
    expect(papers.map(({ grantTitle }) => grantTitle)).toEqual(['Studio plan'])
    const file = await call(copyRoute, 'GET', { params: { sha256: copy?.sha256 ?? '' } })
    const bytes = Buffer.from(await file.arrayBuffer())
    expect(bytes.subarray(0, 4).toString('latin1')).toBe('OggS')
    expect(bytes.includes('Studio plan licence')).toBe(true)
  })

  it('export, check, the file itself, and the check again', async () => {
    await download(world.app, 'Dull thud')
    const { id } = await value(Video, videosRoute, 'POST', { body: INPUT })
    const raw = finishedTrack(5, [['b3', 2, -8]])
    const done = await value(UploadDone, exportRoute, 'PUT', {
      params: { id: String(id) },
      query: '?name=final.wav',
      raw,
    })
    await world.app.jobs.idle()
    const check = await value(CheckDetail, checkRoute, 'GET', { params: { id: String(done.checkId) } })
    expect(check.findings.map(({ title, verdict }) => [title, verdict])).toEqual([['Dull thud', 'clear']])
    const thud = { params: { id: String(await soundId(world.app, 'Dull thud')) } }
    const { usedIn } = await value(SoundDetail, soundRoute, 'GET', thud)
    expect(usedIn).toEqual([{ videoId: id, title: INPUT.title, timesS: [expect.closeTo(2, 2)] }])
    const file = await call(exportFileRoute, 'GET', {
      params: { id: String(done.exportId) },
      headers: { Range: 'bytes=-4' },
    })
    expect(file.headers.get('content-range')).toBe(`bytes ${raw.length - 4}-${raw.length - 1}/${raw.length}`)
    const again = await value(UploadDone, againRoute, 'POST', { params: { id: String(id) } })
    expect(again.checkId).toBeGreaterThan(done.checkId)
    await world.app.jobs.idle()
  })

  it('answers to points, undone and brought back; facts byte for byte; removal; files; room', async () => {
    const { id } = await value(Video, videosRoute, 'POST', { body: INPUT })
    const params = { id: String(id) }
    const raw = finishedTrack(6, [['b3', 2, -8]])
    const done = await value(UploadDone, exportRoute, 'PUT', { params, query: '?name=final.wav', raw })
    await world.app.jobs.idle()
    const checkParams = { params: { id: String(done.checkId) } }
    const check = await value(CheckDetail, checkRoute, 'GET', checkParams)
    const facts = await call(factsRoute, 'GET', checkParams)
    const text = await facts.text()
    expect(createHash('sha256').update(text, 'utf8').digest('hex')).toBe(check.factsSha256)
    expect(CheckFactsSchema.parse(JSON.parse(text)).file.sha256).toBe(createHash('sha256').update(raw).digest('hex'))
    const point = check.points.find(({ answerKinds }) => answerKinds.includes('accepted'))
    const { kind: pointKind, trackIndex, places, soundIds } = point as (typeof check.points)[number]
    const said = { pointKind, trackIndex, places, soundIds, kind: 'accepted', reason: 'heard it', by: 'Ann' }
    const Answered = z.object({ answerId: z.number() })
    const { answerId } = await value(Answered, answersRoute, 'POST', { params, body: said })
    const Undone = z.object({ undone: z.boolean() })
    for (const undone of [true, false])
      expect(await value(Undone, answerRoute, 'PATCH', { params: { id: String(answerId) }, body: { undone } })).toEqual(
        { undone },
      )
    for (const [body, status] of [
      [{ ...said, reason: '' }, 400],
      [{ ...said, by: ' ' }, 400],
      [{ ...said, kind: 'from' }, 400],
      [{ ...said, trackIndex: 7 }, 409],
    ] as const)
      expect((await call(answersRoute, 'POST', { params, body })).status).toBe(status)
    expect((await value(VideoFiles, filesRoute, 'GET', { params })).files).toMatchObject([{ fileName: 'final.wav' }])
    const removed = { removed: true }
    const set = (route: Parameters<typeof call>[0], one: number) =>
      value(RemovalInput, route, 'PUT', { params: { id: String(one) }, body: removed })
    expect(await set(checkRemovalRoute, done.checkId)).toEqual(removed)
    expect(await set(exportRemovalRoute, done.exportId)).toEqual(removed)
    expect((await value(VideoFiles, filesRoute, 'GET', { params })).files).toEqual([])
    expect(await set(videoRemovalRoute, id)).toEqual(removed)
    expect((await call(videoRoute, 'GET', { params })).status).toBe(404)
    const told = (await value(RemovedThings, removedRoute, 'GET')).removed
    expect(told[0]).toMatchObject({ what: 'videos', id, videoTitle: null })
    expect((await value(Room, roomRoute, 'GET')).freeBytes).toBeGreaterThan(0)
    expect(await value(JobStarted, roomRoute, 'POST')).toMatchObject({ already: false })
    await world.app.jobs.idle()
  })

  it('the video in hand of each tab, told in a header', async () => {
    const [one, two] = [
      await value(Video, videosRoute, 'POST', { body: INPUT }),
      await value(Video, videosRoute, 'POST', { body: INPUT }),
    ]
    const inHand = async (header?: string): Promise<number | null> =>
      (await value(ShellState, stateRoute, 'GET', header ? { headers: { 'X-Video-In-Hand': header } } : {}))
        .videoInHandId
    expect([await inHand(String(one.id)), await inHand(String(two.id)), await inHand('none')]).toEqual([
      one.id,
      two.id,
      null,
    ])
    // What says nothing, or nonsense, is asked in the light of the last; what is gone is nothing in hand.
    expect([await inHand(), await inHand('x'), await inHand('999999')]).toEqual([two.id, two.id, null])
  })

  it('sources, and their synchronisation', async () => {
    expect((await value(SourceList, sourcesRoute, 'GET')).sources.map(({ id }) => id).sort()).toEqual([
      'elsewhere',
      'heron-slate',
      'pell-marrow',
      'skerryview',
      'tin-barn',
    ])
    const { jobId } = await value(JobStarted, syncRoute, 'POST', { params: { id: 'tin-barn' } })
    await world.app.jobs.idle()
    expect(await value(Job, jobRoute, 'GET', { params: { id: String(jobId) } })).toMatchObject({
      kind: 'mirror',
      state: 'done',
    })
  })

  it('terms, whole, with the hash of their text', async () => {
    const params = { id: String(await soundId(world.app, 'Ice crack')) }
    const { terms } = await value(SoundDetail, soundRoute, 'GET', { params })
    const whole = await value(TermsText, termsRoute, 'GET', { params: { id: String(terms.id) } })
    expect(whole).toMatchObject({ title: 'Creative Commons BY 4.0', sha256: terms.sha256 })
    expect(createHash('sha256').update(whole.text, 'utf8').digest('hex')).toBe(whole.sha256)
  })

  it('jobs: listed, and a finished one left as it is', async () => {
    const { jobs } = await value(JobList, jobsRoute, 'GET')
    expect(jobs.filter(({ kind }) => kind === 'mirror').length).toBeGreaterThanOrEqual(2)
    const newest = jobs[0] as Job
    expect(await value(Job, jobRoute, 'DELETE', { params: { id: String(newest.id) } })).toEqual(newest)
  })

  it('job events as they happen, until the reader leaves', async () => {
    const controller = new AbortController()
    const response = await call(eventsRoute, 'GET', { signal: controller.signal })
    expect(response.headers.get('content-type')).toBe('text/event-stream')
    const reader = (response.body as ReadableStream<Uint8Array>).getReader()
    const { job } = await world.app.jobs.enqueue('mirror', 'tin-barn', 'Sync')
    let text = ''
    const ended = new RegExp(`event: job\\n.*"id":${job.id},.*"state":"done"`)
    while (!ended.test(text)) text += new TextDecoder().decode((await reader.read()).value)
    // The list as it was comes first, in one piece.
    expect(text).toMatch(/^retry: 1000\n\nevent: jobs\n/)
    expect(text).toContain(`"id":${job.id}`)
    expect(world.app.jobs.listenerCount('job')).toBe(1)
    controller.abort()
    expect(world.app.jobs.listenerCount('job')).toBe(0)
    await reader.cancel()
  })
})

describe('problems come in one shape, with what to do', () => {
  const none = { id: '987654' }
  it.each([
    ['bad-id', 400, () => call(videoRoute, 'GET', { params: { id: '../1' } })],
    ['bad-id', 400, () => call(copyRoute, 'GET', { params: { sha256: '../../etc/passwd' } })],
    ['bad-json', 400, () => call(videosRoute, 'POST', { raw: '{"title":' })],
    ['bad-request', 400, () => call(videosRoute, 'POST', { body: { ...INPUT, title: ' ' } })],
    ['bad-request', 400, () => call(videosRoute, 'POST', { body: { ...INPUT, uses: { ...INPUT.uses, places: [] } } })],
    [
      'bad-request',
      400,
      () => call(videosRoute, 'POST', { body: { ...INPUT, uses: { ...INPUT.uses, territory: 'the moon' } } }),
    ],
    [
      'bad-request',
      400,
      () => call(videosRoute, 'POST', { body: { ...INPUT, uses: { ...INPUT.uses, publishOn: '2030-02-30' } } }),
    ],
    ['bad-request', 400, () => call(soundsRoute, 'GET', { query: '?limit=9999' })],
    ['bad-request', 400, () => call(soundsRoute, 'GET', { query: '?offset=-1' })],
    ['bad-request', 400, () => call(stateRoute, 'PATCH', { body: { licensee: '' } })],
    [
      'too-large',
      413,
      () => call(videosRoute, 'POST', { raw: 'x'.repeat(300_000), headers: { 'Content-Length': '300000' } }),
    ],
    ['not-found', 404, () => call(videoRoute, 'GET', { params: none })],
    ['not-found', 404, () => call(videoRoute, 'PUT', { params: none, body: INPUT })],
    ['not-found', 404, () => call(soundRoute, 'GET', { params: none })],
    ['not-found', 404, () => call(audioRoute, 'GET', { params: none })],
    ['not-found', 404, () => call(downloadRoute, 'POST', { params: none, body: { format: null } })],
    ['not-found', 404, () => call(checkRoute, 'GET', { params: none })],
    ['not-found', 404, () => call(exportFileRoute, 'GET', { params: none })],
    ['not-found', 404, () => call(jobRoute, 'GET', { params: none })],
    ['not-found', 404, () => call(termsRoute, 'GET', { params: none })],
    ['not-found', 404, () => call(jobRoute, 'DELETE', { params: none })],
    ['not-found', 404, () => call(syncRoute, 'POST', { params: { id: 'nowhere' } })],
    ['not-found', 404, () => call(copyRoute, 'GET', { params: { sha256: 'a'.repeat(64) } })],
    ['not-found', 404, () => call(stateRoute, 'PATCH', { body: { videoInHandId: 987654 } })],
    ['not-found', 404, () => call(exportRoute, 'PUT', { params: none, query: '?name=a.wav', raw: 'x' })],
    ['empty-file', 422, () => call(exportRoute, 'PUT', { params: { id: filmId }, query: '?name=a.wav' })],
    [
      'unsupported-ending',
      415,
      () => call(exportRoute, 'PUT', { params: { id: filmId }, query: '?name=a.txt', raw: 'x' }),
    ],
    [
      'range',
      416,
      async () =>
        call(audioRoute, 'GET', {
          params: { id: String(await soundId(world.app, 'Ice crack')) },
          headers: { Range: 'bytes=99999999-' },
        }),
    ],
  ] as const)('%s (%i)', async (code, status, act) => {
    const response = await act()
    expect(response.status).toBe(status)
    expect(response.headers.get('content-type')).toBe('application/problem+json')
    const problem = Problem.parse(await response.json())
    expect(problem).toMatchObject({ code, status })
    expect(problem.detail.length).toBeGreaterThan(10)
  })

  it('a check of a video without a file', async () => {
    const { id } = await value(Video, videosRoute, 'POST', { body: INPUT })
    const response = await call(againRoute, 'POST', { params: { id: String(id) } })
    expect(Problem.parse(await response.json())).toMatchObject({ code: 'no-export' })
  })
})
