// @module-tag long
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { CheckDetail } from '../src/contract'
import type { CheckFacts } from '../src/core/clearance'
import { FEATURES_VERSION } from '../src/core/hearing'
import { coveredFraction, coveredS, type TimeRange } from '../src/core/time-range'
import { enqueueCatchUps } from '../src/server/checks/catch-up'
import { checkAgain } from '../src/server/checks/start-check'
import { getCheckDetail } from '../src/server/clearance/check-detail'
import { todayIso } from '../src/server/database/open'
import { getFacts, storeFacts } from '../src/server/rows/check-facts'
import { getVideo } from '../src/server/videos/videos'
import { openCheckedFilm } from './checked-film'
import { bringExport, download, finishedTrack, makeVideo, soundId, type World } from './world'

let world: World
let videoId: number
let detail: CheckDetail
beforeAll(async () => {
  ;({ world, videoId, detail } = await openCheckedFilm('check-again'))
})
afterAll(() => world.close())

async function factsOf(checkId: number): Promise<CheckFacts> {
  const { factsSha256 } = await getCheckDetail(world.app, checkId, todayIso())
  return getFacts(world.app.db, factsSha256 as string)
}

describe('a check', () => {
  it('is settled by acquiring the sound', async () => {
    await download(world.app, 'Dull thud')
    const after = await getCheckDetail(world.app, detail.id, todayIso())
    expect(after.findings.find(({ title }) => title === 'Dull thud')?.verdict).toBe('clear')
    const { points } = await getCheckDetail(world.app, detail.id, todayIso())
    const open = points.filter(({ isOpen }) => isOpen).length
    const { state } = await getVideo(world.app, videoId, todayIso())
    expect('points' in state ? state.points : 0).toBe(open)
  })

  it('can be made again, without a new file', async () => {
    const { checkId } = await checkAgain(world.app, videoId)
    await world.app.jobs.idle()
    expect((await getCheckDetail(world.app, checkId, todayIso())).findings.map(({ title }) => title).sort()).toEqual(
      detail.findings.map(({ title }) => title).sort(),
    )
  })

  it('says which sounds were listened to by an older version', async () => {
    const id = await soundId(world.app, 'Servo number 8')
    const outdated = world.app.db.updateTable('analyses').where('sound_id', '=', id)
    await outdated.set({ feature_version: 1 }).execute()
    const { checkId } = await checkAgain(world.app, videoId)
    await world.app.jobs.idle()
    const { notExamined } = await getCheckDetail(world.app, checkId, todayIso())
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
    const partial = await getCheckDetail(world.app, checkId, todayIso())
    expect(partial.listenedFor).toBe(21)
    expect(partial.notExamined).toEqual([
      { soundId: id, title: 'Servo number 9', reason: 'Its audio was never fetched.' },
    ])
    await world.app.db.insertInto('analyses').values(analysis).execute()
    // It can be listened for now, and this check did not: the video is not ready by it.
    const grown = await getCheckDetail(world.app, checkId, todayIso())
    expect(grown.points.find(({ kind }) => kind === 'list-grew')).toMatchObject({ soundIds: [id], isOpen: true })
    expect(grown.videoState.kind).toBe('partly-examined')
    // It is looked for in the stored track by itself, and the facts are carried on.
    await enqueueCatchUps(world.app)
    await world.app.jobs.idle()
    const caughtUp = await getCheckDetail(world.app, checkId, todayIso())
    expect(caughtUp.points.map(({ kind }) => kind)).not.toContain('list-grew')
    expect(caughtUp.listenedFor).toBe(22)
    expect(caughtUp.factsSha256).not.toBe(grown.factsSha256)
  })

  it('that is carried on by a sound of later has more beside it just where a check from the start has', async () => {
    const film = await makeVideo(world.app, 'A film with a servo under its music')
    // The servo is fainter than the music that goes on over it.
    const { checkId } = await bringExport(world.app, film, finishedTrack(8, [['h9', 3, -20]]))
    const whole = await factsOf(checkId)
    expect(whole.detections).toHaveLength(1)
    const [beyond] = whole.tracks.map(({ beyondHeard = [] }) => beyondHeard)
    expect(coveredS(beyond ?? [])).toBeGreaterThan(0.15)
    const isSame = (found: readonly TimeRange[] = []): void => {
      expect(Math.abs(coveredS(found) - coveredS(beyond ?? []))).toBeLessThan(0.1)
      expect(coveredFraction(found[0] as TimeRange, beyond ?? [])).toBeGreaterThan(0.8)
    }
    // A version that did not look beside what it heard: it is done by itself, for no new sound.
    const tracks = whole.tracks.map(({ beyondHeard: _, ...track }) => track)
    await storeFacts(world.app.db, checkId, { ...whole, tracks })
    await enqueueCatchUps(world.app)
    await world.app.jobs.idle()
    const lookedAt = await factsOf(checkId)
    expect(lookedAt.detections).toEqual(whole.detections)
    isSame(lookedAt.tracks[0]?.beyondHeard)
    const id = await soundId(world.app, 'Servo number 9')
    const analyses = world.app.db.selectFrom('analyses').selectAll().where('sound_id', '=', id)
    const analysis = await analyses.executeTakeFirstOrThrow()
    await world.app.db.deleteFrom('analyses').where('sound_id', '=', id).execute()
    const again = await checkAgain(world.app, film)
    await world.app.jobs.idle()
    const without = await factsOf(again.checkId)
    expect([without.detections, without.tracks[0]?.beyondHeard]).toEqual([[], []])
    await world.app.db.insertInto('analyses').values(analysis).execute()
    await enqueueCatchUps(world.app)
    await world.app.jobs.idle()
    const carried = await factsOf(again.checkId)
    expect(carried.detections).toHaveLength(1)
    isSame(carried.tracks[0]?.beyondHeard)
    // How many were searched, and from which level each of the others would have been heard, is told as of a check from the start.
    const searched = ({ tracks: [track] }: CheckFacts) => ({
      counts: ['shortlist', 'catalogue'].map((wanted) =>
        (track?.stages ?? []).reduce((sum, { name, soundCount }) => sum + (name === wanted ? soundCount : 0), 0),
      ),
      silentIds: track?.sensitivity.map(([soundId]) => soundId).sort((a, b) => a - b),
    })
    expect(searched(carried)).toEqual(searched(whole))
    // One alone is searched at other speeds in full.
    const [was, is] = await Promise.all(
      [checkId, again.checkId].map(async (one) => {
        const { tracks: searchedTracks } = await getCheckDetail(world.app, one, todayIso())
        return searchedTracks[0]?.otherSpeeds ?? { inFull: 0, lookedUp: 0, not: -1 }
      }),
    )
    expect(is).toEqual({ inFull: (was?.inFull ?? 0) + 1, lookedUp: (was?.lookedUp ?? 0) - 1, not: 0 })
    expect(searched(without).silentIds).not.toContain(id)
  })

  it('by an earlier version, which heard long sounds in part, is carried on with these, and with no others', async () => {
    const { checkId } = await checkAgain(world.app, videoId)
    await world.app.jobs.idle()
    const facts = await factsOf(checkId)
    const id = await soundId(world.app, 'Servo number 9')
    const analysis = world.app.db.updateTable('analyses').where('sound_id', '=', id)
    const { duration_s } = await world.app.db
      .selectFrom('analyses')
      .select('duration_s')
      .where('sound_id', '=', id)
      .executeTakeFirstOrThrow()
    await analysis.set({ duration_s: 20 }).execute()
    const grown = async (): Promise<readonly number[]> => {
      const { points } = await getCheckDetail(world.app, checkId, todayIso())
      return points.find(({ kind }) => kind === 'list-grew')?.soundIds ?? []
    }
    // What was heard by this version is not asked about, however long.
    expect(await grown()).toEqual([])
    const earlier = { ...facts, engine: { ...facts.engine, featuresVersion: 2 } }
    await world.app.db.transaction().execute((trx) => storeFacts(trx, checkId, earlier))
    expect(await grown()).toEqual([id])
    await enqueueCatchUps(world.app)
    await world.app.jobs.idle()
    expect(await grown()).toEqual([])
    const carried = await factsOf(checkId)
    expect(carried.engine.featuresVersion).toBe(FEATURES_VERSION)
    expect(carried.reference.listenedFor).toEqual(facts.reference.listenedFor)
    await analysis.set({ duration_s }).execute()
  })

  it('that is asked for twice is one', async () => {
    const first = await checkAgain(world.app, videoId)
    expect(await checkAgain(world.app, videoId)).toEqual(first)
    await world.app.jobs.idle()
  })

  it.each(['running', 'queued'] as const)('that is %s can be stopped', async (state) => {
    const other = await makeVideo(world.app)
    await bringExport(world.app, other, finishedTrack(3, [['b1', 1, -6]]))
    const first = await checkAgain(world.app, videoId)
    const second = await checkAgain(world.app, other)
    await new Promise<void>((resolve) => world.app.jobs.on('job', (job) => job.progressFraction > 0 && resolve()))
    const stopped = state === 'running' ? first : second
    expect(await world.app.jobs.find(stopped.jobId)).toMatchObject({ state })
    await world.app.jobs.cancel(stopped.jobId)
    expect(await getCheckDetail(world.app, stopped.checkId, todayIso())).toMatchObject({
      state: 'cancelled',
      findings: [],
    })
    await world.app.jobs.idle()
    const rest = state === 'running' ? second : first
    expect(await getCheckDetail(world.app, rest.checkId, todayIso())).toMatchObject({ state: 'done' })
    // The check before it stands: what was found is not lost by stopping another look.
    expect((await getVideo(world.app, videoId, todayIso())).state.kind).toBe('points-open')
  })

  it('that was written down but not queued is taken up at the next start', async () => {
    const { checkId, jobId } = await checkAgain(world.app, videoId)
    await world.app.jobs.cancel(jobId)
    await world.app.db.updateTable('checks').set({ state: 'waiting' }).where('id', '=', checkId).execute()
    await world.reopen()
    await world.app.jobs.idle()
    expect(await getCheckDetail(world.app, checkId, todayIso())).toMatchObject({ state: 'done' })
  })

  it('goes on after the process was stopped in the middle', async () => {
    const { checkId, jobId } = await checkAgain(world.app, videoId)
    await new Promise<void>((resolve) => world.app.jobs.on('job', (job) => job.progressFraction > 0 && resolve()))
    await world.reopen()
    await world.app.jobs.idle()
    expect(await world.app.jobs.find(jobId)).toMatchObject({ state: 'done' })
    expect((await getCheckDetail(world.app, checkId, todayIso())).findings).toHaveLength(4)
  })
})
