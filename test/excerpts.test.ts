// @module-tag long
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { CheckDetail, PointWire } from '../src/contract'
import { type CheckFacts, stateInWords } from '../src/core/clearance'
import { writeWav } from '../src/core/formats/wav'
import { answerPoint } from '../src/server/clearance/answers'
import { getCheckDetail } from '../src/server/clearance/check-detail'
import { listUnlistedSounds } from '../src/server/clearance/clearance-input'
import { todayIso } from '../src/server/database/open'
import { findCurrentCheck, getFacts } from '../src/server/rows/check-facts'
import {
  bringExport,
  download,
  excerptedSamples,
  makeVideo,
  mirrorAll,
  openWorldWithExcerpt,
  RATE_HZ,
  soundId,
  type World,
} from './world'

let world: World
let iceId: number

beforeAll(async () => {
  world = await openWorldWithExcerpt('excerpts')
  await mirrorAll(world)
  iceId = await soundId(world.app, 'Ice crack')
})
afterAll(() => world.close())

/** A film that is silent but for some samples from two seconds on, checked. */
async function checked(name: string, samples: Float32Array): Promise<{ videoId: number; checkId: number }> {
  const track = new Float32Array(6 * RATE_HZ)
  track.set(samples, 2 * RATE_HZ)
  const videoId = await makeVideo(world.app, name)
  const bytes = writeWav({ sampleRateHz: RATE_HZ, channels: [track] })
  return { videoId, checkId: (await bringExport(world.app, videoId, bytes, `${name}.wav`)).checkId }
}

const detail = (checkId: number): Promise<CheckDetail> => getCheckDetail(world.app, checkId, todayIso())

function excerptPoint({ points }: CheckDetail): PointWire | undefined {
  return points.find(({ kind }) => kind === 'known-in-part')
}

async function unlisted(facts: CheckFacts): Promise<number[]> {
  return (await listUnlistedSounds(world.app.db, facts)).map(({ soundId: id }) => id)
}

/** What of “Ice crack” its preview leaves out. */
const behind = (): Float32Array => excerptedSamples().subarray(5 * RATE_HZ, 6.5 * RATE_HZ)

describe('a sound whose preview is an excerpt', () => {
  it('keeps every video from being ready, until that is accepted or it is listed as long as it can be heard', async () => {
    const { videoId, checkId } = await checked('Silent', new Float32Array(0))
    const before = await detail(checkId)
    expect(stateInWords(before.videoState)).toBe('partly examined')
    expect(before.points.filter(({ isOpen }) => isOpen)).toHaveLength(1)
    expect(excerptPoint(before)).toMatchObject({
      sentence:
        '1 sound of your sources is longer than its preview. What the preview leaves out could not be listened for.',
      soundTitles: [{ title: 'Ice crack', sourceName: 'Tin Barn Commons' }],
      answerKinds: ['accepted'],
    })
    const { db } = world.app
    const list = (durationS: number) =>
      db.updateTable('sounds').set({ duration_s: durationS }).where('id', '=', iceId).execute()
    for (const [listedS, kind] of [
      [2.9, 'ready'],
      [3.1, 'partly-examined'],
      // Its library does not say.
      [0, 'ready'],
      [8, 'partly-examined'],
    ] as const) {
      await list(listedS)
      expect((await detail(checkId)).videoState.kind, `listed as ${listedS} s`).toBe(kind)
    }
    const { kind: pointKind, trackIndex, places, soundIds } = excerptPoint(before) as PointWire
    const said = { kind: 'accepted', fromSoundId: null, reason: 'it is not in there', by: 'Ann' } as const
    const about = { pointKind, trackIndex, places, soundIds }
    await answerPoint(world.app, videoId, { ...about, ...said }, todayIso())
    expect(stateInWords((await detail(checkId)).videoState)).toBe('ready, with 1 point accepted by Ann')
  })

  it('does not count while it was only seen among answers to a search', async () => {
    const { checkId } = await checked('Seen', new Float32Array(0))
    const { db } = world.app
    await db.insertInto('live_seen').values({ sound_id: iceId, seen_at: new Date().toISOString() }).execute()
    expect(excerptPoint(await detail(checkId))).toBeUndefined()
    await db.deleteFrom('live_seen').execute()
    expect(excerptPoint(await detail(checkId))).toBeDefined()
  })

  it('is listened for by all of its file once that is here, in what was checked before too', async () => {
    const { videoId, checkId } = await checked('Behind', behind())
    const before = await detail(checkId)
    // Nothing of it is in the preview.
    expect(before.findings).toEqual([])
    await download(world.app, 'Dull thud')
    await download(world.app, 'Ice crack')
    await world.app.jobs.idle()
    const after = await detail(checkId)
    expect(excerptPoint(after)).toBeUndefined()
    expect(after.findings.map(({ title, verdict }) => [title, verdict])).toEqual([['Ice crack', 'owes-credit']])
    const [place] = after.findings[0]?.detections ?? []
    expect(place?.fromS).toBeGreaterThan(2)
    expect(place?.toS).toBeGreaterThan(5.4)
    expect(stateInWords(after.videoState)).toBe('ready, 1 credit owed')
    // The file of the other one, whose preview is whole, was no reason to listen again.
    const { factsSha256 } = await findCurrentCheck(world.app.db, videoId)
    const facts = await getFacts(world.app.db, factsSha256 as string)
    const listed = new Map(facts.reference.listenedFor)
    const thudId = await soundId(world.app, 'Dull thud')
    const grants = await world.app.db
      .selectFrom('grants')
      .select(['sound_id', 'served_sha256', 'heard_sha256'])
      .execute()
    const fileOf = (id: number) => grants.find(({ sound_id }) => sound_id === id)
    expect(listed.get(iceId)).toBe(fileOf(iceId)?.served_sha256)
    expect(listed.get(thudId)).toBe(fileOf(thudId)?.heard_sha256)
    expect(await unlisted(facts)).toEqual([])
    const first = await getFacts(world.app.db, before.factsSha256 as string)
    expect(await unlisted(first)).toEqual([iceId])
    // Where it was not kept how long the preview was, nothing is taken for granted.
    await world.app.db.updateTable('grants').set({ heard_duration_s: null }).where('sound_id', '=', thudId).execute()
    expect((await unlisted(first)).sort()).toEqual([iceId, thudId].sort())
  })
})
