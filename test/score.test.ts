import fs from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import {
  type MixOptions,
  MixStarted,
  ScoreChanged,
  VideoOverviews,
  VideoScore,
  VideoStepFacts,
  type WrittenMix,
} from '../src/contract'
import { clipLoudness, hitPointS } from '../src/core/audio'
import { readWav } from '../src/core/formats/wav'
import { newMoment } from '../src/core/moments'
import { newLayer, newPlacement, type Placement, type ScoreEdit } from '../src/core/score'
import * as mixFileRoute from '../src/pages/api/mixes/[id]/[position]'
import * as mixesRoute from '../src/pages/api/videos/[id]/mixes'
import * as pictureRoute from '../src/pages/api/videos/[id]/picture'
import * as scoreRoute from '../src/pages/api/videos/[id]/score'
import * as scoreListRoute from '../src/pages/api/videos/[id]/score-list'
import * as stepsRoute from '../src/pages/api/videos/[id]/steps'
import * as overviewRoute from '../src/pages/api/videos/overview'
import { nowIso } from '../src/server/database/db'
import { describeFile } from '../src/server/doctor/describe-file'
import { changeMoments } from '../src/server/moments/moments'
import { sweep } from '../src/server/removal/room'
import { call, serveApp, value } from './call'
import { download, makeVideo, mirrorAll, openWorld, soundId, type World } from './world'

let world: World
beforeAll(async () => {
  world = await openWorld('score')
  serveApp(world.app)
  await mirrorAll(world, ['tin-barn'])
  await download(world.app, 'Dull thud')
})
afterAll(() => world.close())

const EFFECTS: ScoreEdit = { do: 'add-layer', layer: newLayer('one', 'Effects', 'effects'), atIndex: 0 }

function change(videoId: number, revision: number, edits: readonly ScoreEdit[]) {
  return value(ScoreChanged, scoreRoute, 'POST', { params: { id: String(videoId) }, body: { revision, edits } })
}
const load = (videoId: number) => value(VideoScore, scoreRoute, 'GET', { params: { id: String(videoId) } })

async function placed(id: string, title: string, values: Partial<Placement> = {}): Promise<Placement> {
  const sound = await soundId(world.app, title)
  return newPlacement(id, { layerId: 'one', audio: { kind: 'preview', soundId: sound }, startS: 1, toS: 0.4 }, values)
}

const PLAIN: MixOptions = { withStems: false, format: 'wav', withVideo: false }

async function mixed(videoId: number, options: Partial<MixOptions> = {}): Promise<WrittenMix> {
  const { mix } = await value(MixStarted, mixesRoute, 'POST', {
    params: { id: String(videoId) },
    body: { ...PLAIN, ...options },
  })
  await world.app.jobs.idle()
  const made = (await load(videoId)).mixes.find(({ id }) => id === mix.id)
  if (!made) throw new Error('the mix is gone')
  return made
}

async function fileOf(mix: WrittenMix, position = 1): Promise<Uint8Array> {
  const answer = await call(mixFileRoute, 'GET', { params: { id: String(mix.id), position: String(position) } })
  expect(answer.status).toBe(200)
  return new Uint8Array(await answer.arrayBuffer())
}

describe('what is placed in a video', () => {
  it('is empty at first, takes edits, and is the same after the next start', async () => {
    const videoId = await makeVideo(world.app)
    expect(await load(videoId)).toMatchObject({ revision: 0, document: { layers: [], placements: [] }, mixes: [] })
    const add: ScoreEdit = { do: 'add', placements: [await placed('p', 'Dull thud')] }
    expect(await change(videoId, 0, [EFFECTS, add])).toEqual({ outcome: 'saved', revision: 1 })
    expect((await load(videoId)).document).toMatchObject({ placements: [{ id: 'p', startS: 1 }] })
  })

  it('is not written over by a tab that did not see the last change', async () => {
    const videoId = await makeVideo(world.app)
    await change(videoId, 0, [EFFECTS])
    const late = await change(videoId, 0, [{ do: 'remove-layer', id: 'one' }])
    expect(late).toMatchObject({ outcome: 'changed-meanwhile', revision: 1, document: { layers: [{ id: 'one' }] } })
    expect((await load(videoId)).document.layers).toHaveLength(1)
  })

  it.each<[string, unknown]>([
    ['an edit of what is not there', { revision: 0, edits: [{ do: 'remove', ids: ['x'] }] }],
    ['no edit', { revision: 0, edits: [] }],
    [
      'a value that nobody knows',
      { revision: 0, edits: [{ do: 'change', changes: [{ id: 'p', to: { colour: 1 } }] }] },
    ],
    [
      'a start that is no number',
      { revision: 0, edits: [{ do: 'change', changes: [{ id: 'p', to: { startS: '1' } }] }] },
    ],
  ])('refuses %s, and stays', async (_, body) => {
    const videoId = await makeVideo(world.app)
    const answer = await call(scoreRoute, 'POST', { params: { id: String(videoId) }, body })
    expect(answer.status).toBe(400)
    expect((await load(videoId)).revision).toBe(0)
  })

  it('is of a video that is there', async () => {
    expect((await call(scoreRoute, 'GET', { params: { id: '99999' } })).status).toBe(404)
  })
})

describe('a list for an editing program', () => {
  it('names the copy that is here, or the sound whose preview is placed', async () => {
    const videoId = await makeVideo(world.app)
    const id = await soundId(world.app, 'Dull thud')
    const { sha256, file_name: fileName } = await world.app.db
      .selectFrom('copies')
      .select(['sha256', 'file_name'])
      .executeTakeFirstOrThrow()
    const copy = await placed('c', 'Dull thud', { audio: { kind: 'copy', sha256, soundId: id } })
    await change(videoId, 0, [
      EFFECTS,
      { do: 'add', placements: [copy, await placed('p', 'Dull thud', { startS: 4 })] },
    ])
    const list = (as: string) => call(scoreListRoute, 'GET', { params: { id: String(videoId) }, query: `?as=${as}` })
    const edl = await (await list('edl')).text()
    expect(edl).toContain(`* FROM CLIP NAME: ${fileName}`)
    expect(edl).toContain('* FROM CLIP NAME: Dull thud, preview')
    const otio = await list('otio')
    expect(otio.headers.get('content-disposition')).toContain('A finished film.otio')
    expect(JSON.stringify(await otio.json())).toContain(sha256)
    expect((await list('xml')).status).toBe(400)
  })
})

describe('a mix', () => {
  it('has each sound where its hit was put, at its level, under its ceiling', { tags: 'long' }, async () => {
    const videoId = await makeVideo(world.app)
    const once = await placed('p', 'Dull thud', { startS: 2.345, toS: 0.4 })
    const again = await placed('q', 'Dull thud', { startS: 5, gainDb: -12, toS: 0.4 })
    await change(videoId, 0, [EFFECTS, { do: 'add', placements: [once, again] }])
    const mix = await mixed(videoId)
    expect(mix).toMatchObject({ state: 'done', silent: [], revision: 1 })
    expect(mix.files.map(({ name }) => name)).toEqual(['A finished film, mix.wav'])
    const { channels, sampleRateHz } = readWav(await fileOf(mix))
    expect([channels.length, sampleRateHz]).toEqual([2, 48_000])
    const left = channels[0] as Float32Array
    const part = (fromS: number, toS: number) => left.slice(fromS * 48_000, toS * 48_000)
    // Nothing before, nothing after.
    expect(part(0, 2.34).every((sample) => sample === 0)).toBe(true)
    const [loud, soft] = [part(2.345, 2.745), part(5, 5.4)]
    expect(hitPointS(soft, 48_000)).toBe(hitPointS(loud, 48_000))
    const ratio = Math.max(...loud) / Math.max(...soft)
    expect(20 * Math.log10(ratio)).toBeCloseTo(12, 1)
    expect(mix.truePeakDbtp).toBeLessThanOrEqual(-1)
    expect(mix.lengthS).toBeCloseTo(5.4, 2)
  })

  it('is brought to its loudness, and its stems add up to it', async () => {
    const videoId = await makeVideo(world.app)
    const layers: ScoreEdit[] = [EFFECTS, { do: 'add-layer', layer: newLayer('two', 'Far', 'ambience'), atIndex: 1 }]
    const sounds = [
      await placed('p', 'Dull thud'),
      await placed('q', 'Dull thud', { layerId: 'two', startS: 1.2, gainDb: -6 }),
    ]
    await change(videoId, 0, [
      ...layers,
      { do: 'add', placements: sounds },
      { do: 'deliver', delivery: { loudnessLufs: -30, ceilingDbtp: -1 } },
    ])
    const mix = await mixed(videoId, { withStems: true })
    expect(mix.files.map(({ name }) => name)).toEqual([
      'A finished film, mix.wav',
      'A finished film, Effects.wav',
      'A finished film, Far.wav',
    ])
    const [whole, one, two] = await Promise.all(
      [1, 2, 3].map(async (position) => readWav(await fileOf(mix, position)).channels[0] as Float32Array),
    )
    if (!whole || !one || !two) throw new Error('a file is missing')
    expect(mix.integratedLufs).toBeCloseTo(-30, 1)
    expect(clipLoudness([whole, whole], 48_000).integratedLufs).toBeCloseTo(-30, 1)
    const off = whole.reduce((most, sample, n) => Math.max(most, Math.abs(sample - (one[n] ?? 0) - (two[n] ?? 0))), 0)
    // Three files of 24 bits are rounded each by itself.
    expect(off).toBeLessThan(4 / 2 ** 23)
  })

  it('says what was silent since its audio is not here, and is written all the same', async () => {
    const videoId = await makeVideo(world.app)
    const gone = await placed('g', 'Dull thud', { audio: { kind: 'copy', sha256: 'f'.repeat(64), soundId: null } })
    await change(videoId, 0, [EFFECTS, { do: 'add', placements: [gone, await placed('p', 'Dull thud')] }])
    const mix = await mixed(videoId)
    expect(mix).toMatchObject({ state: 'done', silent: ['a file that is not here any more'] })
    expect((readWav(await fileOf(mix)).channels[0] as Float32Array).some((sample) => sample !== 0)).toBe(true)
  })

  it('of nothing is refused, with what to do', async () => {
    const videoId = await makeVideo(world.app)
    const answer = await call(mixesRoute, 'POST', { params: { id: String(videoId) }, body: PLAIN })
    expect(answer.status).toBe(409)
    expect(await answer.json()).toMatchObject({ detail: expect.stringContaining('Place a sound') })
  })

  it('that is asked for twice is written once, and leaves no half file when it is stopped', async () => {
    const videoId = await makeVideo(world.app)
    const assembly = [{ fromS: 0, toS: 0.4, times: 1500, seamS: 0.05 }]
    await change(videoId, 0, [EFFECTS, { do: 'add', placements: [await placed('p', 'Dull thud', { assembly })] }])
    const body = PLAIN
    const params = { id: String(videoId) }
    const first = await value(MixStarted, mixesRoute, 'POST', { params, body })
    const second = await value(MixStarted, mixesRoute, 'POST', { params, body })
    expect(second.mix.id).toBe(first.mix.id)
    await world.app.jobs.cancel(second.mix.jobId as number)
    await world.app.jobs.idle()
    const [mix] = (await load(videoId)).mixes
    expect(mix).toMatchObject({ state: 'cancelled', files: [], jobId: null })
    const incoming = `${world.app.store.dataDir}/incoming`
    expect(fs.readdirSync(incoming)).toEqual([])
  })

  it('is kept by the sweep of what nothing names, and named when it is lost', async () => {
    const videoId = await makeVideo(world.app)
    await change(videoId, 0, [EFFECTS, { do: 'add', placements: [await placed('p', 'Dull thud')] }])
    const mix = await mixed(videoId)
    const row = await world.app.db
      .selectFrom('mix_files')
      .select('sha256')
      .where('mix_id', '=', mix.id)
      .executeTakeFirstOrThrow()
    await sweep(world.app, { nowMs: Date.now(), graceMs: 0, signal: new AbortController().signal })
    expect(world.app.store.has(row.sha256)).toBe(true)
    expect(await describeFile(world.app.db, row.sha256)).toMatchObject({ name: 'The mix “A finished film, mix.wav”' })
  })
})

describe('how far a video is in its first steps', () => {
  const steps = (videoId: number) => value(VideoStepFacts, stepsRoute, 'GET', { params: { id: String(videoId) } })

  it('is counted as it is in what is noted and placed', async () => {
    const videoId = await makeVideo(world.app)
    expect(await steps(videoId)).toEqual({ momentCount: 0, settledCount: 0, placedCount: 0, hasCut: false })
    const moments = [
      newMoment('a', 1, { soundId: await soundId(world.app, 'Dull thud') }),
      newMoment('b', 2),
      newMoment('c', 3, { kind: 'silence' }),
    ]
    await changeMoments(world.app, videoId, { revision: 0, edits: [{ do: 'add', moments }] })
    await change(videoId, 0, [EFFECTS, { do: 'add', placements: [await placed('p', 'Dull thud')] }])
    expect(await steps(videoId)).toEqual({ momentCount: 3, settledCount: 2, placedCount: 1, hasCut: false })
    const answer = await call(stepsRoute, 'GET', { params: { id: '999999' } })
    expect(answer.status).toBe(404)
  })

  it('is told of all videos at once, with their lengths and pictures, and not of those that were removed', async () => {
    const overviews = async () => (await value(VideoOverviews, overviewRoute, 'GET')).videos
    const [bare, filmed, removed] = [await makeVideo(world.app), await makeVideo(world.app), await makeVideo(world.app)]
    await world.app.db.updateTable('videos').set({ removed_at: nowIso() }).where('id', '=', removed).execute()
    await change(bare, 0, [EFFECTS, { do: 'add', placements: [await placed('p', 'Dull thud')] }])
    const film = { size_bytes: 9, mime: 'video/mp4', created_at: nowIso() }
    const { id: exportId } = await world.app.db
      .insertInto('exports')
      .values({ ...film, video_id: filmed, sha256: 'ab'.repeat(32), file_name: 'a.mp4' })
      .returning('id')
      .executeTakeFirstOrThrow()
    const check = { video_id: filmed, export_id: exportId, state: 'done', message: '', created_at: nowIso() }
    await world.app.db
      .insertInto('checks')
      .values({ ...check, has_picture: 1, duration_s: 61.5 })
      .execute()
    const all = await overviews()
    expect(all.map(({ id }) => id)).not.toContain(removed)
    expect(all.find(({ id }) => id === bare)).toEqual({
      ...{ id: bare, momentCount: 0, settledCount: 0, placedCount: 1 },
      ...{ hasCut: false, hasCutPicture: false, lengthS: null, filmId: null },
    })
    expect(all.find(({ id }) => id === filmed)).toMatchObject({ lengthS: 61.5, filmId: exportId, placedCount: 0 })
    // A film that was removed is not shown any more.
    await world.app.db.updateTable('exports').set({ removed_at: nowIso() }).where('id', '=', exportId).execute()
    expect((await overviews()).find(({ id }) => id === filmed)).toMatchObject({ filmId: null, lengthS: null })
    expect((await call(pictureRoute, 'GET', { params: { id: String(filmed) } })).status).toBe(404)
  })
})
