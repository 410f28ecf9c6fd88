// @module-tag long
import { execFileSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { Readable } from 'node:stream'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { AnswerInput, type CheckDetail, type PointWire } from '../src/contract'
import { stateInWords } from '../src/core/clearance'
import { dayWords } from '../src/core/day-words'
import { writeWav } from '../src/core/formats/wav'
import { enqueueCatchUps } from '../src/server/checks/catch-up'
import { checkAgain } from '../src/server/checks/start-check'
import { answerPoint, undoAnswer } from '../src/server/clearance/answers'
import { getCheckDetail } from '../src/server/clearance/check-detail'
import { todayIso } from '../src/server/database/open'
import { loadDesk } from '../src/server/desk/desk'
import { takeInFromElsewhere } from '../src/server/folders/elsewhere'
import { addFolder, enqueueScan } from '../src/server/folders/folders'
import { listLedgerEntries } from '../src/server/ledger/ledger'
import { declarePapers } from '../src/server/papers/declare'
import { getFacts, storeFacts } from '../src/server/rows/check-facts'
import { changeShell } from '../src/server/shell-state'
import { getVideo, listVideos } from '../src/server/videos/videos'
import {
  bringExport,
  download,
  finishedTrack,
  makeVideo,
  mirrorAll,
  openWorld,
  RATE_HZ,
  soundId,
  soundSamples,
  temporaryDir,
  usesOf,
  type World,
  worldForEach,
} from './world'

let world: World
/** The world of a machine without ffmpeg. */
let bare: World
const dir = temporaryDir('grounds')
beforeAll(async () => {
  world = await openWorld('grounds')
  await mirrorAll(world)
  // The threads that decode take the setting along when they start.
  process.env.THUD_DECODER = 'embedded'
  bare = await openWorld('bare', 'own')
  await mirrorAll(bare, ['tin-barn'])
  delete process.env.THUD_DECODER
})
afterAll(async () => {
  await world.close()
  await bare.close()
  fs.rmSync(dir, { recursive: true })
})

const signal = new AbortController().signal

/** A new video with a finished file that was checked. */
async function checked(
  name: string,
  bytes: Uint8Array,
  { app }: World = world,
): Promise<{ videoId: number; detail: CheckDetail }> {
  const videoId = await makeVideo(app, `Film ${name}`)
  const { checkId } = await bringExport(app, videoId, bytes, name)
  return { videoId, detail: await getCheckDetail(app, checkId, todayIso()) }
}

/** The state as the list, the page of the video and the Desk show it. */
async function everywhere(videoId: number, checkId: number, { app }: World = world): Promise<string> {
  const own = await getVideo(app, videoId, todayIso())
  const listed = (await listVideos(app, todayIso())).find(({ id }) => id === videoId)
  const page = await getCheckDetail(app, checkId, todayIso())
  expect(listed?.state).toEqual(own.state)
  expect(page.videoState).toEqual(own.state)
  const { notices } = await loadDesk(app, todayIso())
  const notReady = notices.some(({ href, title }) => href === `/videos/${videoId}` && title.endsWith('is not ready'))
  expect(notReady).toBe(own.state.kind === 'partly-examined' || own.state.kind === 'points-open')
  return stateInWords(own.state)
}

/** Silence with sounds at [id, second]: nothing in it is unexplained. */
function quietTrack(durationS: number, placed: readonly (readonly [string, number])[]): Float32Array {
  const out = new Float32Array(durationS * RATE_HZ)
  for (const [id, atS] of placed) out.set(soundSamples(id), Math.round(atS * RATE_HZ))
  return out
}

function wav(...tracks: readonly Float32Array[]): Uint8Array {
  return writeWav({ sampleRateHz: RATE_HZ, channels: tracks })
}

/** A file with several audio tracks. */
function severalTracks(name: string, tracks: readonly Float32Array[], codec = 'flac'): Uint8Array {
  const inputs = tracks.map((track, index) => {
    const file = path.join(dir, `${name}-${index}.wav`)
    fs.writeFileSync(file, wav(track))
    return file
  })
  const out = path.join(dir, name)
  const maps = inputs.flatMap((_, index) => ['-map', String(index)])
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...inputs.flatMap((file) => ['-i', file]), ...maps, '-c:a', codec, out])
  return fs.readFileSync(out)
}

function answerOf(point: PointWire, more: Partial<AnswerInput>): AnswerInput {
  const { kind: pointKind, trackIndex, places, soundIds } = point
  // As it comes over the wire: the order of the members is that of the contract, not that of what was sent.
  return AnswerInput.parse({
    pointKind,
    trackIndex,
    places,
    soundIds,
    kind: 'accepted',
    fromSoundId: null,
    reason: 'tested',
    by: 'Ann',
    ...more,
  })
}

async function acquire(title: string): Promise<void> {
  await world.app.jobs.enqueue('download', String(await soundId(world.app, title)), title)
  await world.app.jobs.idle()
}

describe('a video is not ready', () => {
  it('while nothing was listened for, whatever is in the file', async () => {
    const empty = await openWorld('nothing')
    const { videoId, detail } = await checked('nothing.wav', wav(quietTrack(3, [])), empty)
    expect(detail.listenedFor).toBe(0)
    expect(detail.points.map(({ kind }) => kind)).toContain('nothing-listened-for')
    expect(await everywhere(videoId, detail.id, empty)).toBe('partly examined')
    const [point] = detail.points
    const accept = answerPoint(empty.app, videoId, answerOf(point as PointWire, {}), todayIso())
    await expect(accept).rejects.toMatchObject({ code: 'not-an-answer' })
    await empty.close()
  })

  it('by a sound that stands in the second track alone', async () => {
    await acquire('Ice crack')
    const bytes = severalTracks('two.mkv', [quietTrack(4, []), quietTrack(4, [['b3', 1.5]])])
    const { videoId, detail } = await checked('two.mkv', bytes)
    expect(detail.tracks.map(({ name }) => name)).toEqual(['Track 1 (mono)', 'Track 2 (mono)'])
    const thud = detail.findings.find(({ title }) => title === 'Dull thud')
    expect(thud).toMatchObject({ verdict: 'no-papers', ground: null })
    expect(thud?.detections.map(({ trackIndex, startS }) => [trackIndex, Math.round(startS * 10) / 10])).toEqual([
      [1, 1.5],
    ])
    expect(await everywhere(videoId, detail.id)).toMatch(/points? open/)
  })

  it('by an effect that only the left rear of a surround track holds', async () => {
    const silent = new Float32Array(4 * RATE_HZ)
    const rear = quietTrack(4, [['b3', 1]])
    const bytes = wav(silent, silent, silent, silent, rear, silent)
    const { detail } = await checked('surround.wav', bytes)
    expect(detail.findings.map(({ title }) => title)).toEqual(['Dull thud'])
  })

  it('by what a file that was cut off does not hold any more', async () => {
    const whole = wav(quietTrack(10, [['b1', 1]]))
    const { videoId, detail } = await checked('cut.wav', whole.subarray(0, Math.floor(whole.length * 0.6)))
    expect(detail.tracks[0]?.missing).toEqual([{ startS: expect.closeTo(6, 1), endS: expect.closeTo(10, 1) }])
    const point = detail.points.find(({ kind }) => kind === 'undecoded')
    expect(point?.sentence).toContain('could not be decoded from 0:06.0 to 0:10.0')
    expect(await everywhere(videoId, detail.id)).toBe('partly examined')
    const entry = (await listLedgerEntries(world.app.db, 0)).filter(({ kind }) => kind === 'checked').at(-1)
    expect(entry?.body).toMatchObject({ missing: [{ track: 0 }] })
    const { job } = { job: (await world.app.jobs.list({ maxEnded: 5 })).find(({ kind }) => kind === 'check') }
    expect(job?.message).toMatch(/^Partly examined/)
    const { answerId } = await answerPoint(world.app, videoId, answerOf(point as PointWire, {}), todayIso())
    expect(await everywhere(videoId, detail.id)).toBe('ready, 1 credit owed, with 1 point accepted by Ann')
    await undoAnswer(world.app, answerId, true)
    expect(await everywhere(videoId, detail.id)).toBe('partly examined')
  })

  it('by a sound with papers that is only possible, until the creator says that it is that one', async () => {
    await acquire('Ice crack')
    const { videoId, detail } = await checked('possible.wav', wav(quietTrack(4, [['b1', 1.2]])))
    expect(await everywhere(videoId, detail.id)).toBe('ready, 1 credit owed')
    // The same check, had it been less sure.
    const facts = await getFacts(world.app.db, detail.factsSha256 as string)
    const unsure = { ...facts, detections: facts.detections.map((one) => ({ ...one, confidence: 0.6 })) }
    await world.app.db.transaction().execute((trx) => storeFacts(trx, detail.id, unsure))
    expect(await everywhere(videoId, detail.id)).toBe('1 point open')
    const { points } = await getCheckDetail(world.app, detail.id, todayIso())
    const [point] = points as [PointWire]
    const crack = await soundId(world.app, 'Ice crack')
    expect(point).toMatchObject({ kind: 'unsure', isOpen: true, soundIds: [crack] })
    expect(point.soundTitles.map(({ title }) => title)).toEqual(['Ice crack'])
    const said = (id: number) =>
      answerPoint(world.app, videoId, answerOf(point, { kind: 'from', fromSoundId: id }), todayIso())
    await expect(said(await soundId(world.app, 'Dull thud'))).rejects.toMatchObject({ code: 'not-found' })
    const { answerId } = await said(crack)
    expect(await everywhere(videoId, detail.id)).toBe('ready, 1 credit owed')
    // It is a word about what is heard: nothing is looked for.
    await enqueueCatchUps(world.app)
    await world.app.jobs.idle()
    const after = await getCheckDetail(world.app, detail.id, todayIso())
    expect(after.points).toMatchObject([{ kind: 'unsure', isOpen: false, answer: { kind: 'from', by: 'Ann' } }])
    await undoAnswer(world.app, answerId, true)
    expect(await everywhere(videoId, detail.id)).toBe('1 point open')
  })

  it('by a folder file that was overwritten with another recording', async () => {
    const folder = path.join(dir, 'own')
    fs.mkdirSync(folder)
    const file = path.join(folder, 'gate.wav')
    fs.writeFileSync(file, wav(soundSamples('o1')))
    const { id } = await addFolder(world.app, { path: folder, name: 'Own', defaultTerms: null })
    await world.app.jobs.idle()
    const gate = await soundId(world.app, 'gate')
    const made = { from: 'here', who: 'Ann', when: '', note: '', terms: { kind: 'own' as const } }
    await declarePapers(world.app, gate, made)
    const before = await checked('gate.wav', wav(quietTrack(4, [['o1', 1]])))
    expect(before.detail.findings[0]).toMatchObject({ title: 'gate', verdict: 'clear' })
    expect(await everywhere(before.videoId, before.detail.id)).toBe('ready')
    // The same name, another recording: papers do not pass over.
    fs.writeFileSync(file, wav(soundSamples('o2')))
    await enqueueScan(world.app, id)
    await world.app.jobs.idle()
    const after = await checked('gate-2.wav', wav(quietTrack(4, [['o2', 1]])))
    const finding = after.detail.findings[0]
    expect(finding).toMatchObject({ title: 'gate', verdict: 'no-papers', ground: null })
    expect(finding?.sentence).toBe(`This file changed on ${dayWords(todayIso())}; its papers were for the file before.`)
    expect(await everywhere(after.videoId, after.detail.id)).toBe('1 point open')
    // What was heard of the file before is cleared as it was.
    expect((await getCheckDetail(world.app, before.detail.id, todayIso())).findings[0]?.verdict).toBe('clear')
  })

  it('by terms that contradict themselves', async () => {
    const { soundId: gong } = await takeInFromElsewhere(world.app, {
      name: 'gong.wav',
      body: Readable.from([Buffer.from(wav(soundSamples('o5')))]),
      range: null,
      signal,
    })
    await world.app.jobs.idle()
    const both = 'You may use the sounds online. The sounds may not be used online.'
    const { id } = await world.app.db.transaction().execute(async (trx) => {
      const { storeTerms } = await import('../src/server/terms/terms-store')
      const { grantDeclared } = await import('../src/server/papers/declare')
      const readings = [
        { key: 'online' as const, answer: 'yes' as const, phrase: 'You may use the sounds online' },
        { key: 'online' as const, answer: 'no' as const, phrase: 'may not be used online' },
      ]
      const termsId = await storeTerms(trx, 'elsewhere', {
        key: 'both',
        version: '1',
        title: 'Both ways',
        shortTitle: 'Both',
        spdxId: null,
        url: null,
        text: both,
        duration: 'for-ever',
        readings,
        misfitLabel: null,
      })
      const { audio_sha256 } = await trx
        .selectFrom('analyses')
        .select('audio_sha256')
        .where('sound_id', '=', gong)
        .executeTakeFirstOrThrow()
      await grantDeclared(trx, {
        soundId: gong,
        copySha256: audio_sha256,
        termsId,
        title: 'D',
        event: { soundId: gong },
      })
      return { id: termsId }
    })
    expect(id).toBeGreaterThan(0)
    const { detail, videoId } = await checked('gong.wav', wav(quietTrack(4, [['o5', 1]])))
    const finding = detail.findings.find(({ title }) => title === 'gong')
    expect(finding?.verdict).toBe('not-allowed')
    expect(finding?.sentence).toContain('they also say “You may use the sounds online”')
    expect(await everywhere(videoId, detail.id)).toBe('1 point open')
  })
})

describe('a file that holds a heard sound and more', () => {
  const own = worldForEach('medley', (first) => mirrorAll(first))

  it('is told beside it, and its papers are none for it', async () => {
    const medley = new Float32Array(6 * RATE_HZ)
    medley.set(soundSamples('b4'), 0.96 * RATE_HZ)
    medley.set(soundSamples('h9'), 3 * RATE_HZ)
    medley.set(soundSamples('h12'), 4.5 * RATE_HZ)
    const body = Readable.from([Buffer.from(writeWav({ sampleRateHz: RATE_HZ, channels: [medley] }))])
    const taken = await takeInFromElsewhere(own().app, { name: 'my medley.wav', body, range: null, signal })
    const said = { from: '', who: '', when: '', note: '', terms: { kind: 'own' as const } }
    await declarePapers(own().app, taken.soundId, said)
    await own().app.jobs.idle()
    const { detail } = await checked('bell.wav', finishedTrack(6, [['b4', 3, -6]]), own())
    const bell = detail.findings.find(({ title }) => title === 'Bronze bell')
    expect(bell).toMatchObject({
      verdict: 'no-papers',
      ground: null,
      relatives: [{ soundId: taken.soundId, title: 'my medley', relation: 'holds-it' }],
    })
  })
})

describe('a track that cannot be decoded here', () => {
  it('keeps the video from being ready, until someone answers for it', async () => {
    const good = path.join(dir, 'good.wav')
    fs.writeFileSync(good, wav(quietTrack(3, [])))
    const out = path.join(dir, 'strange.mkv')
    const maps = ['-map', '0', '-map', '1', '-c:a:0', 'flac', '-c:a:1', 'ac3']
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', good, '-i', good, ...maps, out])
    const { detail, videoId } = await checked('strange.mkv', fs.readFileSync(out), bare)
    expect(detail.tracks.map(({ notListenedReason }) => notListenedReason !== null)).toEqual([false, true])
    const state = async (): Promise<string> => stateInWords((await getVideo(bare.app, videoId, todayIso())).state)
    const point = detail.points.find(({ kind }) => kind === 'track') as PointWire
    expect(point.sentence).toContain('ac3')
    expect(await state()).toBe('partly examined')
    await answerPoint(bare.app, videoId, answerOf(point, { reason: 'a copy of track 1' }), todayIso())
    expect(await state()).toBe('ready, with 1 point accepted by Ann')
  })
})

describe('what nothing explains', () => {
  let videoId: number
  let detail: CheckDetail
  const again = async (): Promise<CheckDetail> => getCheckDetail(world.app, detail.id, todayIso())
  /** Says of everything that is open that it is the channel's own. */
  const settleAll = async (): Promise<void> => {
    for (const point of (await again()).points.filter(({ isOpen, kind }) => isOpen && kind !== 'speech'))
      await answerPoint(world.app, videoId, answerOf(point, { kind: 'own', reason: '' }), todayIso())
    await changeShell(world.app, { ownSpeech: { by: 'Ann' } })
  }
  // A film of its own for each case.
  beforeEach(async () => {
    await acquire('Ice crack')
    await changeShell(world.app, { ownSpeech: null })
    ;({ videoId, detail } = await checked('bed.wav', finishedTrack(12, [['b1', 3, -6]])))
  })

  it('is a point, until the creator says whose it is', async () => {
    const open = detail.points.filter(({ isOpen }) => isOpen)
    expect(open.length).toBeGreaterThan(0)
    expect(open.every(({ kind }) => ['music', 'noise', 'event', 'speech'].includes(kind))).toBe(true)
    expect(await everywhere(videoId, detail.id)).toMatch(/points? open/)
    await settleAll()
    expect(await everywhere(videoId, detail.id)).toBe('ready, 1 credit owed')
  })

  it('is open again when that is undone, and the ledger tells all of it', async () => {
    await settleAll()
    const answered = (await again()).points.find(({ answer }) => answer !== null)
    await undoAnswer(world.app, answered?.answer?.id ?? 0, true)
    expect(await everywhere(videoId, detail.id)).toMatch(/1 point open/)
    await undoAnswer(world.app, answered?.answer?.id ?? 0, false)
    expect(await everywhere(videoId, detail.id)).toBe('ready, 1 credit owed')
    const kinds = (await listLedgerEntries(world.app.db, 0)).map(({ kind }) => kind)
    expect(kinds.slice(-2)).toEqual(['answer-undone', 'answered'])
  })

  it('is not settled by an answer to a point as it was before', async () => {
    const [point] = (await again()).points
    const stale = answerOf(point as PointWire, { places: [{ startS: 0, endS: 0.5 }] })
    await expect(answerPoint(world.app, videoId, stale, todayIso())).rejects.toMatchObject({ code: 'no-such-point' })
  })

  it('is looked for when it is said to be from a sound, and stays open where that is not heard', async () => {
    await settleAll()
    const answered = (await again()).points.find(({ answer, kind }) => answer !== null && kind !== 'speech')
    await undoAnswer(world.app, answered?.answer?.id ?? 0, true)
    const thud = await soundId(world.app, 'Dull thud')
    const point = (await again()).points.find(({ isOpen }) => isOpen) as PointWire
    await answerPoint(world.app, videoId, answerOf(point, { kind: 'from', fromSoundId: thud }), todayIso())
    await enqueueCatchUps(world.app)
    await world.app.jobs.idle()
    const after = await again()
    expect(after.factsSha256).not.toBe(detail.factsSha256)
    expect(after.points.find(({ kind }) => kind === point.kind)).toMatchObject({
      isOpen: true,
      answer: { kind: 'from' },
    })
    expect(await everywhere(videoId, detail.id)).toMatch(/1 point open/)
  })
})

describe('a sound that comes after the check', () => {
  it('is looked for by itself in what was stored, and the video comes up on the Desk', async () => {
    const { videoId, detail } = await checked('late.wav', wav(quietTrack(5, [['e9', 2]])))
    expect(detail.findings).toEqual([])
    await takeInFromElsewhere(world.app, {
      name: 'late clang.wav',
      body: Readable.from([Buffer.from(wav(soundSamples('e9')))]),
      range: null,
      signal,
    })
    await world.app.jobs.idle()
    const after = await getCheckDetail(world.app, detail.id, todayIso())
    expect(after.findings.map(({ title, verdict }) => [title, verdict])).toEqual([['late clang', 'no-papers']])
    expect(after.findings[0]?.detections[0]?.startS).toBeCloseTo(2, 1)
    expect(await everywhere(videoId, detail.id)).toMatch(/point/)
    const { notices } = await loadDesk(world.app, todayIso())
    expect(notices.find(({ kind, href }) => kind === 'heard' && href === `/videos/${videoId}`)?.sentence).toContain(
      '1 place',
    )
  })
})

describe('a sound that comes after the check and answers where another one was heard', () => {
  it('is named beside it, as a check from the start would do, and is no finding of its own', async () => {
    const { videoId, detail } = await checked(
      'twice.wav',
      wav(
        quietTrack(6, [
          ['b1', 1],
          ['b2', 3.5],
        ]),
      ),
    )
    const heard = (one: CheckDetail) =>
      one.findings
        .map(({ title, verdict, detections, alternatives }) => ({
          title,
          verdict,
          places: detections.length,
          others: alternatives.map((each) => each.title),
        }))
        .sort((a, b) => a.title.localeCompare(b.title))
    // The same recording, cut a little and quieter, and one that goes on where the other ends.
    const copy = soundSamples('b1').subarray(900)
    for (const [name, samples] of [
      ['worn copy.wav', copy.map((value) => 0.6 * value)],
      ['thud and more.wav', Float32Array.of(...soundSamples('b2'), ...soundSamples('h7'))],
    ] as const)
      await takeInFromElsewhere(world.app, {
        name,
        body: Readable.from([Buffer.from(wav(samples))]),
        range: null,
        signal,
      })
    await world.app.jobs.idle()
    const after = await getCheckDetail(world.app, detail.id, todayIso())
    const { checkId } = await checkAgain(world.app, videoId)
    await world.app.jobs.idle()
    const anew = await getCheckDetail(world.app, checkId, todayIso())
    const named = (one: CheckDetail) => heard(one).map(({ title, others }) => [title, ...others].sort())
    expect(named(detail)).toEqual([['Ice crack'], ['Radio hum']])
    expect(named(after).sort()).toEqual([
      ['Ice crack', 'worn copy'],
      ['Radio hum', 'thud and more'],
    ])
    // There are papers of none of both that came: which one was used is for the creator to say.
    expect(after.videoState.kind).toBe('points-open')
    expect(after.listenedFor).toBe(detail.listenedFor + 2)
    expect(heard(after)).toEqual(heard(anew))
  })
})

describe('a state that is kept', () => {
  const own = worldForEach('kept', async (first) => {
    await mirrorAll(first)
    for (const title of ['Ice crack', 'Dull thud']) await download(first.app, title)
    await makeVideo(first.app, 'Another')
    await changeShell(first.app, { ownSpeech: { by: 'Ann' } })
  })

  it('is taken away by everything that it rests on, and by nothing else', async () => {
    const { videoId } = await checked('kept.wav', wav(quietTrack(4, [['b1', 1]])), own())
    await listVideos(own().app, todayIso())
    const kept = async (): Promise<boolean> =>
      (await own().app.db.selectFrom('video_states').select('day').where('video_id', '=', videoId).execute()).length ===
      1
    const { db } = own().app
    const ice = await soundId(own().app, 'Ice crack')
    const thud = await soundId(own().app, 'Dull thud')
    const changes: readonly (readonly [string, boolean, () => Promise<unknown>])[] = [
      ['another video', false, () => db.updateTable('videos').set({ title: 'x' }).where('id', '!=', videoId).execute()],
      [
        'papers of another sound',
        false,
        () => db.updateTable('grants').set({ title: 'x' }).where('sound_id', '=', thud).execute(),
      ],
      [
        'its uses',
        true,
        () =>
          db
            .updateTable('videos')
            .set({ uses_json: JSON.stringify(usesOf()) })
            .where('id', '=', videoId)
            .execute(),
      ],
      [
        'papers of a heard sound',
        true,
        () => db.updateTable('grants').set({ title: 'y' }).where('sound_id', '=', ice).execute(),
      ],
      ['a plan', true, () => db.updateTable('sources').set({ plan: 'z' }).where('id', '=', 'tin-barn').execute()],
      ['whose the voices are', true, () => changeShell(own().app, { ownSpeech: null })],
      [
        'a sound’s audio',
        true,
        () => db.updateTable('analyses').set({ feature_version: 1 }).where('sound_id', '=', thud).execute(),
      ],
      [
        'how long a sound is listed as',
        true,
        () => db.updateTable('sounds').set({ duration_s: 90 }).where('id', '=', thud).execute(),
      ],
      [
        'the same length once more',
        false,
        () => db.updateTable('sounds').set({ duration_s: 90 }).where('id', '=', thud).execute(),
      ],
      ['a group', true, () => db.insertInto('recording_groups').values({ sound_id: thud, group_id: thud }).execute()],
    ]
    for (const [name, takes, change] of changes) {
      expect(await kept(), `before ${name}`).toBe(true)
      await change()
      expect(await kept(), name).toBe(!takes)
      await listVideos(own().app, todayIso())
    }
    // Another day asks anew.
    const [tomorrow] = await listVideos(own().app, '2031-01-01')
    expect(tomorrow?.state.kind).toBeDefined()
    expect(await db.selectFrom('video_states').select('day').distinct().execute()).toEqual([{ day: '2031-01-01' }])
  })
})
