// @module-tag long
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { stateInWords } from '../src/core/clearance'
import { writeWav } from '../src/core/formats/wav'
import { newLayer, newPlacement, type Placement } from '../src/core/score'
import { enqueueCatchUps } from '../src/server/checks/catch-up'
import { answerPoint } from '../src/server/clearance/answers'
import { getCheckDetail } from '../src/server/clearance/check-detail'
import { todayIso } from '../src/server/database/open'
import { getFacts, storeFacts } from '../src/server/rows/check-facts'
import { changeScore } from '../src/server/score/score'
import { getVideo, listVideos } from '../src/server/videos/videos'
import {
  bringExport,
  download,
  makeVideo,
  mirrorAll,
  openWorld,
  RATE_HZ,
  soundId,
  soundSamples,
  type World,
} from './world'

let world: World
let videoId: number
beforeAll(async () => {
  world = await openWorld('placed')
  await mirrorAll(world, ['tin-barn', 'heron-slate'])
  for (const title of ['Bronze bell', 'Servo number 2']) await download(world.app, title)
  videoId = await makeVideo(world.app, 'A film in which sounds were placed')
  await changeScore(world.app, videoId, {
    revision: 0,
    edits: [
      { do: 'add-layer', layer: newLayer('one', 'Effects', 'effects'), atIndex: 0 },
      {
        do: 'add',
        placements: [
          await placed('heard', 'Servo number 2', 1),
          await placed('backwards', 'Dull thud', 3, { isReversed: true }),
          await placed('muted', 'Radio hum', 4, { isMuted: true }),
        ],
      },
    ],
  })
})
afterAll(() => world.close())

async function placed(id: string, title: string, startS: number, values: Partial<Placement> = {}): Promise<Placement> {
  const audio = { kind: 'preview', soundId: await soundId(world.app, title) } as const
  return newPlacement(id, { layerId: 'one', audio, startS, toS: 0.8 }, values)
}

/** Silence with a sound in it, and another one backwards and faint under it. */
function film(): Uint8Array {
  const samples = new Float32Array(6 * RATE_HZ)
  samples.set(soundSamples('h2'), RATE_HZ)
  const faint = soundSamples('b3').reverse()
  for (const [n, value] of faint.entries()) {
    const at = RATE_HZ + n
    samples[at] = (samples[at] as number) + 0.001 * value
  }
  return writeWav({ sampleRateHz: RATE_HZ, channels: [samples] })
}

const stateNow = async (): Promise<string> => {
  const { state } = await getVideo(world.app, videoId, todayIso())
  const listed = (await listVideos(world.app, todayIso())).find(({ id }) => id === videoId)
  expect(listed?.state).toEqual(state)
  return stateInWords(state)
}

describe('a sound that is placed and not heard', () => {
  it('is a point of the check until there are papers for it, also where the state of the video was known', async () => {
    const { checkId } = await bringExport(world.app, videoId, film(), 'film.wav')
    const detail = await getCheckDetail(world.app, checkId, todayIso())
    expect(detail.findings.map(({ title, verdict }) => [title, verdict])).toEqual([['Servo number 2', 'clear']])
    // What is muted is not in the video, and what is heard has a verdict of its own.
    expect(detail.points.map(({ kind, soundTitles }) => [kind, soundTitles.map(({ title }) => title)])).toEqual([
      ['placed', ['Dull thud']],
    ])
    expect(detail.points[0]?.sentence).toMatch(/is placed at 0:03\.0 and was not heard/)
    expect(await stateNow()).toBe('1 point open')
    await download(world.app, 'Dull thud')
    expect(await stateNow()).toBe('ready')
    const thud = await soundId(world.app, 'Dull thud')
    const takenBack = (at: string | null) =>
      world.app.db.updateTable('grants').set({ taken_back_at: at }).where('sound_id', '=', thud).execute()
    await takenBack('2026-06-01T00:00:00.000Z')
    expect(await stateNow()).toBe('1 point open')
    await takenBack(null)
    expect(await stateNow()).toBe('ready')
  })

  it('is settled by the creator’s word for this file, and asked about again for another one', async () => {
    const revision = 1
    const placements = [await placed('quiet', 'Radio hum', 5)]
    await changeScore(world.app, videoId, { revision, edits: [{ do: 'add', placements }] })
    // It was placed after the check: that file cannot have it.
    expect(await stateNow()).toBe('ready')
    const { checkId } = await bringExport(world.app, videoId, film(), 'second.wav')
    const points = async () => (await getCheckDetail(world.app, checkId, todayIso())).points
    const [point] = await points()
    if (!point) throw new Error('there is no point')
    expect(await stateNow()).toBe('1 point open')
    const { kind: pointKind, trackIndex, places, soundIds } = point
    const said = { pointKind, trackIndex, places, soundIds, kind: 'accepted', fromSoundId: null } as const
    await answerPoint(world.app, videoId, { ...said, reason: 'It was cut out again.', by: 'Ann' }, todayIso())
    expect(await stateNow()).toBe('ready, with 1 point accepted by Ann')
    const other = film()
    other[2000] = 3
    await bringExport(world.app, videoId, other, 'third.wav')
    expect(await stateNow()).toBe('1 point open')
  })

  it('is looked at once more by itself where an earlier version checked, while what is placed is as it was', async () => {
    const { checkId } = await bringExport(world.app, videoId, film(), 'fourth.wav')
    const detail = await getCheckDetail(world.app, checkId, todayIso())
    const { placed, ...older } = await getFacts(world.app.db, detail.factsSha256 as string)
    expect(placed?.length).toBeGreaterThan(1)
    const asOlder = async (planRevision: number | null) => {
      await storeFacts(world.app.db, checkId, { ...older, planRevision })
      await world.app.db.deleteFrom('placed_in_checks').execute()
      await enqueueCatchUps(world.app)
      await world.app.jobs.idle()
      const now = await getCheckDetail(world.app, checkId, todayIso())
      return now.points.map(({ kind }) => kind)
    }
    for (const changedSince of [null, (older.planRevision ?? 0) - 1]) expect(await asOlder(changedSince)).toEqual([])
    expect(await asOlder(older.planRevision as number)).toEqual(['placed'])
    expect(await world.app.db.selectFrom('placed_in_checks').selectAll().execute()).not.toEqual([])
  })
})
