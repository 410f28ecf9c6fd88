// @module-tag long
import fs from 'node:fs'
import { Readable } from 'node:stream'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { CheckDetail } from '../src/contract'
import { type CheckFacts, stateInWords } from '../src/core/clearance'
import { writeWav } from '../src/core/formats/wav'
import { enqueueCatchUps } from '../src/server/checks/catch-up'
import { getCheckDetail } from '../src/server/clearance/check-detail'
import { todayIso } from '../src/server/database/open'
import { takeInFromElsewhere } from '../src/server/folders/elsewhere'
import { getFacts, storeFacts } from '../src/server/rows/check-facts'
import { addAt, opposedUnderHum } from './signals'
import { bringExport, makeVideo, mirrorAll, openWorld, RATE_HZ, soundSamples, type World } from './world'

let world: World
beforeAll(async () => {
  world = await openWorld('opposed')
  await mirrorAll(world, ['tin-barn'])
})
afterAll(() => world.close())

/** Left and right of some samples, where right is left times a factor. */
function stereo(left: Float32Array, factor: number): Uint8Array {
  return writeWav({ sampleRateHz: RATE_HZ, channels: [left, left.map((value) => factor * value)] })
}

/** A film of six seconds with a sound from the third on, checked. */
async function checked(name: string, id: string, factor: number): Promise<{ videoId: number; checkId: number }> {
  const left = new Float32Array(6 * RATE_HZ)
  left.set(soundSamples(id), 2 * RATE_HZ)
  const videoId = await makeVideo(world.app, name)
  return { videoId, checkId: (await bringExport(world.app, videoId, stereo(left, factor), `${name}.wav`)).checkId }
}

const detail = (checkId: number): Promise<CheckDetail> => getCheckDetail(world.app, checkId, todayIso())

async function bring(name: string, bytes: Uint8Array): Promise<number> {
  const signal = new AbortController().signal
  const body = Readable.from([Buffer.from(bytes)])
  const { soundId } = await takeInFromElsewhere(world.app, { name, body, range: null, signal })
  await world.app.jobs.idle()
  return soundId
}

describe('a film in which left and right oppose each other', () => {
  it('is examined only in part there where what is there is not listed', async () => {
    const { checkId } = await checked('Opposed and unlisted', 'unlisted', -1)
    const { points, findings, videoState, factsSha256 } = await detail(checkId)
    expect(findings).toEqual([])
    expect(stateInWords(videoState)).toBe('partly examined')
    expect(points.map(({ kind, isOpen, isUnexamined }) => [kind, isOpen, isUnexamined])).toEqual([
      ['opposed', true, true],
    ])
    expect(points[0]?.sentence).toBe(
      'At 0:02.0 left and right of the sound track cancel each other out. What is there was not recognised.',
    )
    expect(points[0]?.places[0]?.startS).toBeCloseTo(2, 1)
    // It was looked for all the same, as it is.
    const [track] = (await getFacts(world.app.db, factsSha256 as string)).tracks
    expect(track?.stages.at(-1)).toMatchObject({ name: 'side', otherSpeeds: false, isComplete: true })
  })

  it('has what is listed named there, with what is owed for it, and is examined', async () => {
    const { checkId } = await checked('Opposed and listed', 'b1', -1)
    const { points, findings, factsSha256 } = await detail(checkId)
    expect(findings.map(({ title, verdict }) => [title, verdict])).toEqual([['Ice crack', 'no-papers']])
    expect(findings[0]?.detections).toMatchObject([{ startS: expect.closeTo(2, 2), inSide: true, balance: 0 }])
    expect(points.filter(({ kind }) => kind === 'opposed')).toEqual([])
    const facts = await getFacts(world.app.db, factsSha256 as string)
    expect(facts.detections).toMatchObject([{ inSide: true }])
    expect(facts.tracks[0]).toMatchObject({ opposed: [], partlyOpposed: [] })
  })

  it('has it named likewise where there is a little more of it on one side', async () => {
    const { points, findings } = await detail((await checked('Uneven', 'b1', -0.74)).checkId)
    expect(findings.map(({ title }) => title)).toEqual(['Ice crack'])
    expect(points.filter(({ kind }) => kind === 'opposed')).toEqual([])
  })

  it('names what is listed, and is examined only in part, where something unlisted is turned over with it', async () => {
    const left = new Float32Array(6 * RATE_HZ)
    const listed = soundSamples('b1')
    left.set(listed, 2 * RATE_HZ)
    // While the listed one sounds, and no longer.
    addAt(left, soundSamples('unlisted').subarray(0, listed.length), 2 * RATE_HZ)
    const videoId = await makeVideo(world.app, 'Both')
    const { checkId } = await bringExport(world.app, videoId, stereo(left, -1), 'both.wav')
    const { points, findings, videoState } = await detail(checkId)
    expect(findings.map(({ title }) => title)).toEqual(['Ice crack'])
    expect(points.filter(({ kind }) => kind === 'opposed')).toHaveLength(1)
    expect(stateInWords(videoState)).toBe('partly examined')
  })

  it('is not examined by what is heard in the middle meanwhile', async () => {
    const listed = soundSamples('b1')
    // It lies within the other.
    const turned = soundSamples('unlisted').subarray(0, Math.round(0.5 * listed.length))
    const channels = [1, -1].map((sign) => {
      const channel = new Float32Array(6 * RATE_HZ)
      addAt(channel, listed, 2 * RATE_HZ, 0.15)
      addAt(channel, turned, Math.round(2.15 * RATE_HZ), sign)
      return channel
    })
    const videoId = await makeVideo(world.app, 'Meanwhile')
    const bytes = writeWav({ sampleRateHz: RATE_HZ, channels })
    const { points, findings } = await detail((await bringExport(world.app, videoId, bytes, 'film.wav')).checkId)
    expect(findings.map(({ title }) => title)).toEqual(['Ice crack'])
    expect(points.filter(({ kind }) => kind === 'opposed')).toHaveLength(1)
  })

  it('is none where they are alike, or the sound is on one side', async () => {
    for (const factor of [1, 0]) {
      const { points, findings } = await detail((await checked(`Not opposed ${factor}`, 'b1', factor)).checkId)
      expect(points.filter(({ kind }) => kind === 'opposed')).toEqual([])
      expect(findings.map(({ title }) => title)).toEqual(['Ice crack'])
    }
  })
})

describe('a check by a version that did not compare left and right', () => {
  /** The facts of a check as that version left them. */
  async function asBefore(checkId: number): Promise<{ facts: CheckFacts; earlierSha256: string }> {
    const facts = await getFacts(world.app.db, (await detail(checkId)).factsSha256 as string)
    const tracks = facts.tracks.map(({ opposed: _, partlyOpposed: ___, beyondHeard: __, ...track }) => track)
    return { facts, earlierSha256: await storeFacts(world.app.db, checkId, { ...facts, tracks }) }
  }
  async function lookOnceMore(checkId: number): Promise<CheckDetail> {
    await enqueueCatchUps(world.app)
    await world.app.jobs.idle()
    return detail(checkId)
  }

  it('is looked at once more by itself, once, and ends as one from the start', async () => {
    const { checkId } = await checked('Of before', 'unlisted', -1)
    const { facts, earlierSha256 } = await asBefore(checkId)
    expect((await detail(checkId)).points.filter(({ kind }) => kind === 'opposed')).toEqual([])
    const after = await lookOnceMore(checkId)
    expect(after.points.map(({ kind, isOpen }) => [kind, isOpen])).toEqual([['opposed', true]])
    const carried = await getFacts(world.app.db, after.factsSha256 as string)
    expect(carried).toMatchObject({ tracks: facts.tracks, detections: [], carriesOn: earlierSha256 })
    expect(carried.reference.listenedFor).toEqual(facts.reference.listenedFor)
    expect((await lookOnceMore(checkId)).factsSha256).toBe(after.factsSha256)
  })

  it('is looked at once more where it compared them as wholes only', async () => {
    const videoId = await makeVideo(world.app, 'Under a hum')
    const bytes = writeWav({
      sampleRateHz: RATE_HZ,
      channels: opposedUnderHum({ length: 6 * RATE_HZ, rateHz: RATE_HZ, atS: 3 }),
    })
    const { checkId } = await bringExport(world.app, videoId, bytes, 'under.wav')
    const whole = await detail(checkId)
    expect(whole.videoState.kind).toBe('partly-examined')
    const [point] = whole.points.filter(({ kind }) => kind === 'opposed')
    const facts = await getFacts(world.app.db, whole.factsSha256 as string)
    const place = { startS: expect.closeTo(3, 1), endS: expect.closeTo(4, 1) }
    expect(facts.tracks[0]).toMatchObject({ opposed: [], partlyOpposed: [place] })
    const tracks = facts.tracks.map(({ partlyOpposed: _, ...track }) => track)
    await storeFacts(world.app.db, checkId, { ...facts, tracks })
    const after = await lookOnceMore(checkId)
    expect(after.points.filter(({ kind }) => kind === 'opposed')).toEqual([point])
    expect((await lookOnceMore(checkId)).factsSha256).toBe(after.factsSha256)
  })

  it('stays as it is while its file cannot be read or is gone', async () => {
    const { checkId } = await checked('Whose file is lost', 'b2', -1)
    const { facts, earlierSha256 } = await asBefore(checkId)
    const file = world.app.store.blobPath(facts.file.sha256)
    const bytes = fs.readFileSync(file)
    // What can be told of what is stored is told all the same.
    fs.writeFileSync(file, 'no film any more')
    const { factsSha256 } = await lookOnceMore(checkId)
    const [track] = (await getFacts(world.app.db, factsSha256 as string)).tracks
    expect([track?.beyondHeard, track?.opposed]).toEqual([[], undefined])
    expect(factsSha256).not.toBe(earlierSha256)
    expect((await lookOnceMore(checkId)).factsSha256).toBe(factsSha256)
    fs.rmSync(file)
    expect((await lookOnceMore(checkId)).factsSha256).toBe(factsSha256)
    fs.writeFileSync(file, bytes)
    expect((await lookOnceMore(checkId)).points.map(({ kind }) => kind)).toEqual(['opposed'])
  })
})

describe('a sound that cannot be listened for', () => {
  it('is named where its left and right oppose each other, and is not where it is silent', async () => {
    const before = await checked('Before', 'b3', 1)
    const silentId = await bring('silence.wav', stereo(new Float32Array(RATE_HZ), 1))
    const opposedId = await bring('opposed.wav', stereo(soundSamples('wide'), -1))
    // Facts from before told of a silent sound that it is of no kind: they can be carried on.
    const facts = await getFacts(world.app.db, (await detail(before.checkId)).factsSha256 as string)
    const tracks = facts.tracks.map((track) => ({ ...track, sensitivity: [[silentId, null, null]] as const }))
    await expect(storeFacts(world.app.db, before.checkId, { ...facts, tracks })).resolves.toMatch(/^[0-9a-f]{64}$/)
    // In what was checked before, and in a check from the start.
    for (const { checkId } of [before, await checked('After', 'b3', 1)]) {
      const { notExamined, points } = await detail(checkId)
      expect(notExamined).toEqual([
        { soundId: opposedId, title: 'opposed', reason: 'Nothing is left of it when its left and right are mixed.' },
      ])
      const [point] = points.filter(({ kind }) => kind === 'not-listened-for')
      expect(point).toMatchObject({ soundIds: [opposedId], isOpen: true })
    }
  })

  it('is named where what is kept of it is gone when it is looked for later', async () => {
    const { app } = world
    const lateId = await bring('late.wav', stereo(soundSamples('late'), 1))
    const analyses = app.db.selectFrom('analyses').selectAll().where('sound_id', '=', lateId)
    const analysis = await analyses.executeTakeFirstOrThrow()
    await app.db.deleteFrom('analyses').where('sound_id', '=', lateId).execute()
    const { checkId } = await checked('Gone', 'b3', 1)
    // It comes back, and what it is heard by is lost meanwhile.
    fs.rmSync(app.store.featurePath(analysis.audio_sha256))
    await app.db.insertInto('analyses').values(analysis).execute()
    await enqueueCatchUps(app)
    await app.jobs.idle()
    const { notExamined, videoState } = await detail(checkId)
    expect(notExamined).toContainEqual({
      soundId: lateId,
      title: 'late',
      reason: 'Its stored features could not be read.',
    })
    expect(videoState.kind).toBe('partly-examined')
  })
})
