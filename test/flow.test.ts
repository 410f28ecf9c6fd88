import { createHash } from 'node:crypto'
import fs from 'node:fs'
import path from 'node:path'
import { Readable } from 'node:stream'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { CheckDetail, CheckedTrackWire, VideoInput } from '../src/contract'
import { decodedFeatures, FEATURES_VERSION, findInTracks, type PreparedSound } from '../src/core/hearing'
import { enqueueCatchUps } from '../src/server/checks/catch-up'
import { checkAgain, takeInExport } from '../src/server/checks/start-check'
import { checkDetail } from '../src/server/clearance/check-detail'
import { todayIso } from '../src/server/database/open'
import { ledgerEntries } from '../src/server/ledger/ledger'
import { getFacts } from '../src/server/rows/check-facts'
import { findVideoInHand, usesOfRow } from '../src/server/rows/video-rows'
import { searchSounds } from '../src/server/sounds/search-sounds'
import { soundDetail } from '../src/server/sounds/sound-detail'
import { listSources } from '../src/server/sources/list-sources'
import { changeVideo, createVideo, getVideo, listVideos } from '../src/server/videos/videos'
import { finishedTrack, mirrorAll, openWorld, soundId, type World } from './world'

let world: World
beforeAll(async () => {
  world = await openWorld('flow')
})
afterAll(() => world.close())

const signal = new AbortController().signal

function input(more: Partial<VideoInput['uses']> = {}): VideoInput {
  return {
    title: 'A finished film',
    uses: {
      places: ['online'],
      earns: false,
      territory: 'worldwide',
      publishOn: new Date().toISOString().slice(0, 10),
      videoLicence: null,
      platforms: [],
      audience: null,
      ...more,
    },
  }
}

async function download(title: string): Promise<void> {
  const id = await soundId(world.app, title)
  await world.app.jobs.enqueue('download', String(id), title)
  await world.app.jobs.idle()
}

async function bring(videoId: number, bytes: Uint8Array, name = 'final.wav'): Promise<number> {
  const body = Readable.from([Buffer.from(bytes)])
  const { checkId } = await takeInExport(world.app, videoId, { name, body, sizeBytes: bytes.length, signal })
  await world.app.jobs.idle()
  return checkId
}

describe('mirroring', () => {
  it('takes over both catalogues and listens to every sound', async () => {
    await mirrorAll(world)
    const sources = await listSources(world.app)
    expect(
      sources
        .filter(({ soundCount }) => soundCount > 0)
        .map(({ name, soundCount, listenedCount, connected }) => [name, soundCount, listenedCount, connected]),
    ).toEqual([
      ['Heron & Slate', 18, 18, true],
      ['Tin Barn Commons', 4, 4, true],
    ])
    expect(sources.find(({ id }) => id === 'heron-slate')).toMatchObject({ plan: 'Studio plan', lastError: null })
  })

  it('does nothing twice', async () => {
    const before = await world.app.db.selectFrom('terms').select('id').execute()
    await mirrorAll(world)
    expect(await world.app.db.selectFrom('terms').select('id').execute()).toEqual(before)
    expect((await world.app.jobs.list())[0]?.message).toContain('0 newly listened to')
  })

  it.each(['error', 'garbage'] as const)(
    'keeps the last good state when the library answers with %s',
    async (fault) => {
      world.barn.control.fault = fault
      const { job } = await world.app.jobs.enqueue('mirror', 'tin-barn', 'Sync')
      await world.app.jobs.idle()
      world.barn.control.fault = 'none'
      expect(await world.app.jobs.find(job.id)).toMatchObject({
        state: 'failed',
        message: expect.stringContaining('Tin Barn Commons'),
      })
      const source = (await listSources(world.app)).find(({ id }) => id === 'tin-barn')
      expect(source).toMatchObject({
        soundCount: 4,
        listenedCount: 4,
        lastError: expect.stringContaining('Tin Barn Commons'),
      })
      await mirrorAll(world, ['tin-barn'])
      expect((await listSources(world.app)).find(({ id }) => id === 'tin-barn')?.lastError).toBeNull()
    },
  )

  it('stores titles as they come, markup and all, and finds them', async () => {
    world.heron.control.fault = 'html-titles'
    await mirrorAll(world, ['heron-slate'])
    const page = await searchSounds(world.app, { q: 'servo number 7', limit: 10, offset: 0, sort: 'best' }, null)
    expect(page.sounds[0]?.title).toBe(`<img src=x onerror="document.title='owned'"><b>Servo number 7</b>`)
    world.heron.control.fault = 'none'
    await mirrorAll(world, ['heron-slate'])
    const again = await searchSounds(world.app, { q: 'servo number 7', limit: 10, offset: 0, sort: 'best' }, null)
    expect(again.sounds[0]?.title).toBe('Servo number 7')
  })
})

describe('searching', () => {
  it('finds by the beginnings of words, over all libraries', async () => {
    const page = await searchSounds(world.app, { q: 'ser num', limit: 5, offset: 0, sort: 'best' }, null)
    expect(page).toMatchObject({ total: 18, catalogueTotal: 22 })
    expect(page.sounds).toHaveLength(5)
    expect(page.sounds.every(({ title }) => title.startsWith('Servo number'))).toBe(true)
  })

  it('pages without gaps or repeats', async () => {
    const ids: number[] = []
    for (let offset = 0; offset < 22; offset += 5)
      ids.push(
        ...(await searchSounds(world.app, { q: '', limit: 5, offset, sort: 'best' }, null)).sounds.map(({ id }) => id),
      )
    expect(new Set(ids).size).toBe(22)
  })

  it.each(['nothing like this', '"', "' OR 1=1 --", 'NEAR('])('takes %j', async (q) => {
    const page = await searchSounds(world.app, { q, limit: 5, offset: 0, sort: 'best' }, null)
    expect(page.catalogueTotal).toBe(22)
  })

  it('says how each sound fits the uses', async () => {
    const fits = async (more: Partial<VideoInput['uses']>): Promise<Record<string, string | null>> => {
      const page = await searchSounds(
        world.app,
        { q: 'short', limit: 50, offset: 0, sort: 'best' },
        { uses: input(more).uses, videoId: null, asOf: todayIso() },
      )
      return Object.fromEntries(page.sounds.map(({ title, fit }) => [title, fit]))
    }
    expect(await fits({})).toEqual({
      'Ice crack': 'fits-with-credit',
      'Radio hum': 'fits-with-credit',
      'Dull thud': 'fits',
      'Bronze bell': 'does-not-fit',
    })
    expect(await fits({ earns: true })).toMatchObject({ 'Radio hum': 'does-not-fit', 'Ice crack': 'fits-with-credit' })
  })

  it('does not say yes where the plan’s licence says nothing', async () => {
    const page = await searchSounds(
      world.app,
      { q: 'servo', limit: 1, offset: 0, sort: 'best' },
      { uses: input({ places: ['game'] }).uses, videoId: null, asOf: todayIso() },
    )
    expect(page.sounds[0]?.fit).toBe('not-stated')
  })
})

describe('a download', () => {
  it('stores the copy under its hash, with terms, order, licensee and credit', async () => {
    await download('Ice crack')
    const detail = await soundDetail(world.app, await soundId(world.app, 'Ice crack'), {
      uses: input().uses,
      videoId: null,
      asOf: todayIso(),
    })
    expect(detail.copy?.fileName).toBe('Ice crack - fernlight - Tin Barn Commons.wav')
    const bytes = fs.readFileSync(world.app.store.blobPath(detail.copy?.sha256 ?? ''))
    expect(createHash('sha256').update(bytes).digest('hex')).toBe(detail.copy?.sha256)
    const [paper] = detail.papers
    expect(paper).toMatchObject({
      termsTitle: 'Creative Commons BY 4.0',
      termsVersion: '4.0',
      grantTitle: 'Open licence',
    })
    expect(paper?.creditLine).toContain('“Ice crack” by fernlight')
    const terms = await world.app.db
      .selectFrom('terms')
      .selectAll()
      .where('sha256', '=', paper?.termsSha256 ?? '')
      .executeTakeFirstOrThrow()
    expect(createHash('sha256').update(terms.text, 'utf8').digest('hex')).toBe(terms.sha256)
    expect(terms.text).toContain('Creative Commons Attribution 4.0 International Public License')
  })

  it('is not made twice', async () => {
    await download('Ice crack')
    expect((await world.app.jobs.list(1))[0]?.message).toBe('It is here already.')
    const id = await soundId(world.app, 'Ice crack')
    expect(await world.app.db.selectFrom('grants').select('id').where('sound_id', '=', id).execute()).toHaveLength(1)
  })

  it('records the plan and its period', async () => {
    await download('Servo number 1')
    const detail = await soundDetail(world.app, await soundId(world.app, 'Servo number 1'), {
      uses: input().uses,
      videoId: null,
      asOf: todayIso(),
    })
    expect(detail.papers[0]).toMatchObject({ grantTitle: 'Studio plan', creditLine: null })
    expect(detail.papers[0]?.planUntil).toMatch(/^\d{4}-\d\d-\d\d$/)
  })

  it.each(['half-body', 'error', 'garbage'] as const)(
    'leaves nothing behind when the library answers with %s',
    async (fault) => {
      const id = await soundId(world.app, 'Servo number 2')
      world.heron.control.fault = fault
      const { job } = await world.app.jobs.enqueue('download', String(id), 'D')
      await world.app.jobs.idle()
      world.heron.control.fault = 'none'
      expect(await world.app.jobs.find(job.id)).toMatchObject({ state: 'failed' })
      expect(await world.app.db.selectFrom('grants').select('id').where('sound_id', '=', id).execute()).toEqual([])
      expect(fs.readdirSync(path.join(world.dir, 'incoming'))).toEqual([])
    },
  )
})

describe('a check', () => {
  let videoId: number
  let detail: CheckDetail
  const laid = [
    ['b1', 2, -8],
    ['h1', 5, -9],
    ['b2', 8, -8],
    ['b3', 11, -8],
    ['b1', 14, -10],
  ] as const

  beforeAll(async () => {
    await download('Radio hum')
    videoId = (await createVideo(world.app, input(), todayIso())).id
    detail = await checkDetail(world.app, await bring(videoId, finishedTrack(18, laid)), todayIso())
  })

  const byTitle = (title: string) => detail.findings.find((finding) => finding.title === title)

  it('hears what is there, and nothing else', () => {
    expect(detail).toMatchObject({ state: 'done', listenedFor: 22, notExamined: [], hasPicture: false })
    const places = detail.findings.flatMap(({ title, detections }) =>
      detections.map(({ startS }) => [title, Math.round(startS * 50) / 50]),
    )
    expect(places.sort((a, b) => (a[1] as number) - (b[1] as number))).toEqual([
      ['Ice crack', 2],
      ['Servo number 1', 5],
      ['Radio hum', 8],
      ['Dull thud', 11],
      ['Ice crack', 14],
    ])
    for (const { detections } of detail.findings)
      for (const { gainDb } of detections) expect(Math.abs(gainDb + 9)).toBeLessThan(2.5)
  })

  it('accounts for the rest of the track, and says how far it can be trusted', () => {
    const { breakdown, sensitivity, decoys } = detail.tracks[0] as CheckedTrackWire
    expect(breakdown.segments[0]?.startS).toBe(0)
    expect(breakdown.segments.at(-1)?.endS).toBeCloseTo(18, 2)
    expect(breakdown.secondsOf.heard).toBeGreaterThan(2)
    expect(breakdown.explainedFraction).toBeGreaterThan(0.9)
    expect(decoys).toEqual({ listenedFor: 22, heard: 0 })
    // Of 22 sounds, four are heard; each of the others would have been from some level on.
    expect(sensitivity).toHaveLength(18)
    for (const { fromDb } of sensitivity) expect(fromDb).toBeLessThan(0)
  })

  it('keeps the track in a compact form, in which a sound is found again', async () => {
    const kept = await world.app.db.selectFrom('stored_tracks').selectAll().executeTakeFirstOrThrow()
    expect(kept.bytes.length).toBeLessThan((18 / 60) * 1e6 + 2000)
    const analysis = await world.app.db
      .selectFrom('analyses')
      .selectAll()
      .where('sound_id', '=', await soundId(world.app, 'Ice crack'))
      .executeTakeFirstOrThrow()
    const sound = decodedFeatures(fs.readFileSync(world.app.store.featurePath(analysis.audio_sha256)))
    const [found] = findInTracks(sound as PreparedSound, [{ key: kept.export_id, bytes: kept.bytes }])
    expect(found?.detections.map(({ startS }) => Math.round(startS))).toEqual([2, 14])
  })

  it('leaves no stages behind when it is over', async () => {
    expect(await world.app.db.selectFrom('check_stages').selectAll().execute()).toEqual([])
  })

  it('does not lend papers to the same recording by another maker: it asks which was used', async () => {
    const [thud, servo] = [await soundId(world.app, 'Dull thud'), await soundId(world.app, 'Servo number 1')]
    const rows = [thud, servo].map((id) => ({ sound_id: id, group_id: thud }))
    await world.app.db.insertInto('recording_groups').values(rows).execute()
    const grouped = await checkDetail(world.app, detail.id, todayIso())
    const heard = grouped.findings.find(({ title }) => title === 'Dull thud')
    expect(heard).toMatchObject({ verdict: 'no-papers', ground: null })
    expect(grouped.points.find(({ kind }) => kind === 'which-copy')).toMatchObject({ isOpen: true })
    await world.app.db.deleteFrom('recording_groups').execute()
  })

  it('lends papers to the same recording by the same maker when only that file is here, and says why', async () => {
    const [thud, servo] = [await soundId(world.app, 'Dull thud'), await soundId(world.app, 'Servo number 1')]
    const rows = [thud, servo].map((id) => ({ sound_id: id, group_id: thud }))
    await world.app.db.insertInto('recording_groups').values(rows).execute()
    const makers = world.app.db.updateTable('sounds').where('id', '=', thud)
    await makers.set({ maker: 'Sable Row' }).execute()
    const heard = (await checkDetail(world.app, detail.id, todayIso())).findings.find(
      ({ title }) => title === 'Dull thud',
    )
    expect(heard?.verdict).toBe('clear')
    expect(heard?.ground).toMatchObject({
      title: 'Servo number 1',
      why: expect.stringContaining('only that file is here'),
    })
    await makers.set({ maker: 'oddment' }).execute()
    await world.app.db.deleteFrom('recording_groups').execute()
  })

  it('gives each sound its verdict, with the clause', () => {
    expect(byTitle('Ice crack')).toMatchObject({ verdict: 'owes-credit' })
    expect(byTitle('Radio hum')).toMatchObject({ verdict: 'owes-credit' })
    expect(byTitle('Servo number 1')).toMatchObject({ verdict: 'clear', creditLine: null })
    expect(byTitle('Dull thud')).toMatchObject({ verdict: 'no-papers', creditLine: null })
    expect(byTitle('Dull thud')?.settlements[0]).toBe('Download it from Tin Barn Commons: its terms allow this video.')
    expect(byTitle('Ice crack')?.reasons[0]?.quote).toContain('identification of the creator')
    // Worst first.
    expect(detail.findings[0]?.title).toBe('Dull thud')
  })

  it('lists the credits that are owed, in the order in which they are heard', () => {
    const lines = detail.credits.split('\n')
    expect(lines[0]).toBe('Sound effects')
    expect(lines).toHaveLength(3)
    expect(lines[1]).toContain('Ice crack')
    expect(lines[2]).toContain('Radio hum')
  })

  it('draws the time map', () => {
    const map = detail.tracks[0]?.map
    expect(map?.durationS).toBeCloseTo(18, 2)
    expect(map?.columns).toBe(1800)
    expect(map?.momentaryLufs.length).toBe(177)
    expect(map?.integratedLufs).toBeLessThan(-10)
  })

  it('has one state for the page, the list and the top bar', async () => {
    const video = await getVideo(world.app, videoId, todayIso())
    const state = { kind: 'points-open', credits: 2 }
    expect(video.state).toMatchObject(state)
    expect(detail.videoState).toEqual(video.state)
    expect((await listVideos(world.app, todayIso())).find(({ id }) => id === videoId)?.state).toEqual(video.state)
  })

  it('writes its facts down once, by the hash that the ledger names', async () => {
    const { facts_sha256: sha256 } = await world.app.db
      .selectFrom('checks')
      .select('facts_sha256')
      .where('id', '=', detail.id)
      .executeTakeFirstOrThrow()
    const facts = await getFacts(world.app.db, sha256 as string)
    expect(facts.reference.listenedFor).toHaveLength(22)
    expect(facts.detections.every(({ audioSha256 }) => /^[0-9a-f]{64}$/.test(audioSha256))).toBe(true)
    expect(
      facts.tracks.map(({ index, notListenedReason, end, missing }) => [index, notListenedReason, end, missing]),
    ).toEqual([[0, null, 'whole', []]])
    const entry = (await ledgerEntries(world.app.db, 0)).filter(({ kind }) => kind === 'checked').at(-1)
    expect(entry?.body).toMatchObject({ factsSha256: sha256, checkId: detail.id })
    const change = world.app.db
      .updateTable('check_facts')
      .set({ json: '{}' })
      .where('sha256', '=', sha256 as string)
    await expect(change.execute()).rejects.toThrow('never changed')
  })

  it('follows a change of the uses at once', async () => {
    await changeVideo(world.app, videoId, input({ earns: true }), todayIso())
    const after = await checkDetail(world.app, detail.id, todayIso())
    const hum = after.findings.find(({ title }) => title === 'Radio hum')
    expect(hum).toMatchObject({ verdict: 'not-allowed', creditLine: null })
    expect(hum?.sentence).toBe('Creative Commons BY-NC 4.0 does not allow a video that earns.')
    expect(after.credits).not.toContain('Radio hum')
    await changeVideo(world.app, videoId, input(), todayIso())
  })

  it('is settled by acquiring the sound', async () => {
    await download('Dull thud')
    const after = await checkDetail(world.app, detail.id, todayIso())
    expect(after.findings.find(({ title }) => title === 'Dull thud')?.verdict).toBe('clear')
    const { points } = await checkDetail(world.app, detail.id, todayIso())
    const open = points.filter(({ isOpen }) => isOpen).length
    const { state } = await getVideo(world.app, videoId, todayIso())
    expect('points' in state ? state.points : 0).toBe(open)
  })

  it('can be made again, without a new file', async () => {
    const { checkId } = await checkAgain(world.app, videoId)
    await world.app.jobs.idle()
    expect((await checkDetail(world.app, checkId, todayIso())).findings.map(({ title }) => title).sort()).toEqual(
      detail.findings.map(({ title }) => title).sort(),
    )
  })

  it('says which sounds were listened to by an older version', async () => {
    const id = await soundId(world.app, 'Servo number 8')
    const outdated = world.app.db.updateTable('analyses').where('sound_id', '=', id)
    await outdated.set({ feature_version: 1 }).execute()
    const { checkId } = await checkAgain(world.app, videoId)
    await world.app.jobs.idle()
    const { notExamined } = await checkDetail(world.app, checkId, todayIso())
    expect(notExamined).toMatchObject([{ soundId: id, reason: expect.stringContaining('Sync its library') }])
    await outdated.set({ feature_version: FEATURES_VERSION }).execute()
  })

  it('names the sounds that could not be listened for', async () => {
    const id = await soundId(world.app, 'Servo number 9')
    const analysis = await world.app.db
      .selectFrom('analyses')
      .selectAll()
      .where('sound_id', '=', id)
      .executeTakeFirstOrThrow()
    await world.app.db.deleteFrom('analyses').where('sound_id', '=', id).execute()
    const { checkId } = await checkAgain(world.app, videoId)
    await world.app.jobs.idle()
    const partial = await checkDetail(world.app, checkId, todayIso())
    expect(partial.listenedFor).toBe(21)
    expect(partial.notExamined).toEqual([
      { soundId: id, title: 'Servo number 9', reason: 'Its audio was never fetched.' },
    ])
    await world.app.db.insertInto('analyses').values(analysis).execute()
    // It can be listened for now, and this check did not: the video is not ready by it.
    const grown = await checkDetail(world.app, checkId, todayIso())
    expect(grown.points.find(({ kind }) => kind === 'list-grew')).toMatchObject({ soundIds: [id], isOpen: true })
    expect(grown.videoState.kind).toBe('partly-examined')
    // It is looked for in the stored track by itself, and the facts are carried on.
    await enqueueCatchUps(world.app)
    await world.app.jobs.idle()
    const caughtUp = await checkDetail(world.app, checkId, todayIso())
    expect(caughtUp.points.map(({ kind }) => kind)).not.toContain('list-grew')
    expect(caughtUp.listenedFor).toBe(22)
    expect(caughtUp.factsSha256).not.toBe(grown.factsSha256)
  })

  it('that is asked for twice is one', async () => {
    const first = await checkAgain(world.app, videoId)
    expect(await checkAgain(world.app, videoId)).toEqual(first)
    await world.app.jobs.idle()
  })

  it.each(['running', 'queued'] as const)('that is %s can be stopped', async (state) => {
    const other = (await createVideo(world.app, input(), todayIso())).id
    await bring(other, finishedTrack(3, [['b1', 1, -6]]))
    const first = await checkAgain(world.app, videoId)
    const second = await checkAgain(world.app, other)
    await new Promise<void>((resolve) => world.app.jobs.on('job', (job) => job.progressFraction > 0 && resolve()))
    const stopped = state === 'running' ? first : second
    expect(await world.app.jobs.find(stopped.jobId)).toMatchObject({ state })
    await world.app.jobs.cancel(stopped.jobId)
    expect(await checkDetail(world.app, stopped.checkId, todayIso())).toMatchObject({
      state: 'cancelled',
      findings: [],
    })
    await world.app.jobs.idle()
    const rest = state === 'running' ? second : first
    expect(await checkDetail(world.app, rest.checkId, todayIso())).toMatchObject({ state: 'done' })
    // The check before it stands: what was found is not lost by stopping another look.
    expect((await getVideo(world.app, videoId, todayIso())).state.kind).toBe('points-open')
  })

  it('that was written down but not queued is taken up at the next start', async () => {
    const { checkId, jobId } = await checkAgain(world.app, videoId)
    await world.app.jobs.cancel(jobId)
    await world.app.db.updateTable('checks').set({ state: 'waiting' }).where('id', '=', checkId).execute()
    world = await world.reopen()
    await world.app.jobs.idle()
    expect(await checkDetail(world.app, checkId, todayIso())).toMatchObject({ state: 'done' })
  })

  it('goes on after the process was stopped in the middle', async () => {
    const { checkId, jobId } = await checkAgain(world.app, videoId)
    await new Promise<void>((resolve) => world.app.jobs.on('job', (job) => job.progressFraction > 0 && resolve()))
    world = await world.reopen()
    await world.app.jobs.idle()
    expect(await world.app.jobs.find(jobId)).toMatchObject({ state: 'done' })
    expect((await checkDetail(world.app, checkId, todayIso())).findings).toHaveLength(4)
  })

  it.each([
    ['text.mp4', Buffer.from('This is no video. '.repeat(100)), 'is not a video or sound file'],
    ['cut.wav', Buffer.from(finishedTrack(1, [])).subarray(0, 30), 'file'],
  ])('of %s ends in a sentence', async (name, bytes, words) => {
    const broken = await checkDetail(world.app, await bring(videoId, bytes, name), todayIso())
    expect(broken).toMatchObject({ state: 'failed', findings: [], tracks: [], fileName: name })
    expect(broken.message).toContain(words)
  })
})

describe('an export', () => {
  it.each([
    ['final.exe', 10, 'unsupported-ending'],
    ['final', 10, 'unsupported-ending'],
    ['final.mp4', 0, 'empty-file'],
  ])('called %s with %i bytes is refused', async (name, size, code) => {
    const { id } = await createVideo(world.app, input(), todayIso())
    await expect(bring(id, new Uint8Array(size), name)).rejects.toMatchObject({ code })
    expect((await getVideo(world.app, id, todayIso())).state).toEqual({ kind: 'not-checked' })
  })

  it('over 4 GB is refused before it is sent', async () => {
    const { id } = await createVideo(world.app, input(), todayIso())
    const upload = { name: 'big.mp4', body: Readable.from([]), sizeBytes: 5 * 1024 ** 3, signal }
    await expect(takeInExport(world.app, id, upload)).rejects.toMatchObject({ code: 'too-large' })
  })

  it('that breaks off leaves nothing behind and can be brought again', async () => {
    const { id } = await createVideo(world.app, input(), todayIso())
    const body = Readable.from(
      (function* () {
        yield Buffer.alloc(1000)
        throw new Error('cable')
      })(),
    )
    const upload = { name: 'final.wav', body, sizeBytes: 5000, signal }
    await expect(takeInExport(world.app, id, upload)).rejects.toMatchObject({ code: 'upload-broke-off' })
    expect(fs.readdirSync(path.join(world.dir, 'incoming'))).toEqual([])
    expect(await bring(id, finishedTrack(2, []))).toBeGreaterThan(0)
  })

  it('for a video that is not there is refused', async () => {
    await expect(bring(99999, new Uint8Array(4))).rejects.toMatchObject({ code: 'not-found' })
  })
})

describe('the video in hand', () => {
  it('is the one made last, and stays over a restart', async () => {
    const made = await createVideo(world.app, { ...input({ places: ['cinema'] }), title: 'The newest' }, todayIso())
    world = await world.reopen()
    const inHand = await findVideoInHand(world.app.db)
    expect(inHand?.id).toBe(made.id)
    expect(inHand && usesOfRow(inHand).places).toEqual(['cinema'])
  })
})
