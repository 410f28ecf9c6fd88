import { Readable } from 'node:stream'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { LoudnessAnswer, MixStarted, PlannedHeard, ScoreChanged, VideoScore } from '../src/contract'
import { clipLoudness } from '../src/core/audio'
import { readWav, writeWav } from '../src/core/formats/wav'
import { newMoment } from '../src/core/moments'
import {
  hitTimeS,
  newLayer,
  newPlacement,
  type Placement,
  placedForMoment,
  placementEndS,
  type Score,
  type ScoreEdit,
  scoreWithEdit,
} from '../src/core/score'
import * as mixFileRoute from '../src/pages/api/mixes/[id]/[position]'
import * as loudnessRoute from '../src/pages/api/score/loudness'
import * as mixesRoute from '../src/pages/api/videos/[id]/mixes'
import * as plannedRoute from '../src/pages/api/videos/[id]/planned-heard'
import * as scoreRoute from '../src/pages/api/videos/[id]/score'
import { bringCut } from '../src/server/cuts/bring-cut'
import { call, serveApp, value } from './call'
import { bringExport, finishedTrack, makeVideo, mirrorAll, openWorld, soundId, soundSamples, type World } from './world'

const RATE_HZ = 48_000
const LENGTH_S = 14
const CEILING_DBTP = -3
/** Titles of the sounds, and the seeds of their samples. */
const SEEDS = { 'Ice crack': 'b1', 'Bronze bell': 'b4' } as const
type Title = keyof typeof SEEDS

let world: World
let videoId: number
let score: Score
/** The whole mix, then each stem by the name of its layer. */
const files = new Map<string, readonly Float32Array[]>()

const params = () => ({ params: { id: String(videoId) } })

/** Where a sound begins in a mix, s: to the sample, by what it has in common with it. */
function startOf(title: Title, mixed: Float32Array, aroundS: number): number {
  const sound = soundSamples(SEEDS[title]).subarray(0, 9600)
  const from = Math.round((aroundS - 0.05) * RATE_HZ)
  let best = 0
  let bestAt = -1
  for (let shift = 0; shift < 0.1 * RATE_HZ; shift++) {
    let sum = 0
    for (let n = 0; n < sound.length; n++) sum += (sound[n] as number) * (mixed[from + shift + n] as number)
    if (sum > best) [best, bestAt] = [sum, shift]
  }
  return bestAt < 0 ? Number.NaN : (from + bestAt) / RATE_HZ
}

const placementOf = (id: string): Placement => score.placements.find((one) => one.id === id) as Placement

beforeAll(async () => {
  world = await openWorld('mix-measured')
  serveApp(world.app)
  await mirrorAll(world, ['tin-barn'])
  videoId = await makeVideo(world.app, 'A night film')
  const cut = finishedTrack(LENGTH_S, [])
  const signal = new AbortController().signal
  await bringCut(world.app, videoId, {
    name: 'cut.wav',
    body: Readable.from([Buffer.from(cut)]),
    sizeBytes: null,
    signal,
  })
  await world.app.jobs.idle()

  const edits: ScoreEdit[] = [
    { do: 'deliver', delivery: { loudnessLufs: null, ceilingDbtp: CEILING_DBTP } },
    { do: 'add-layer', layer: newLayer('own', 'Sound of the cut', 'cut'), atIndex: 0 },
    { do: 'add-layer', layer: newLayer('fx', 'Effects', 'effects'), atIndex: 1 },
    { do: 'add-layer', layer: newLayer('loud', 'Loud', 'free'), atIndex: 2 },
  ]
  score = edits.reduce((now, edit) => scoreWithEdit(now, edit).document, {
    version: 1,
    layers: [],
    placements: [],
    delivery: { loudnessLufs: null, ceilingDbtp: -1 },
  } as Score)
  const add = (edit: ScoreEdit): void => {
    edits.push(edit)
    score = scoreWithEdit(score, edit).document
  }
  // By its hit: 3.2104 s is on no frame and on no step of an analysis.
  const analysed = await world.app.db
    .selectFrom('analyses')
    .select('hit_s')
    .where('sound_id', '=', await soundId(world.app, 'Ice crack'))
    .executeTakeFirstOrThrow()
  add(
    placedForMoment(score, {
      moment: newMoment('m', 3.2104, { kind: 'hit' }),
      audio: { kind: 'preview', soundId: await soundId(world.app, 'Ice crack') },
      source: { durationS: soundSamples('b1').length / RATE_HZ, hitS: analysed.hit_s, isLoudAt: () => false },
      gainDb: -5,
      ids: { placement: 'by-its-hit', layer: 'none' },
    }).edit,
  )
  const bell = { kind: 'preview', soundId: await soundId(world.app, 'Bronze bell') } as const
  add({
    do: 'add',
    placements: [
      newPlacement('bell', { layerId: 'fx', audio: bell, startS: 6, toS: 0.9 }, { gainDb: -8 }),
      newPlacement(
        'cut-off',
        { layerId: 'loud', audio: bell, startS: 9, toS: 0.3 },
        {
          gainDb: 20,
          fadeOut: { lengthS: 0.01, curve: 'equal-power', isAutomatic: true },
        },
      ),
    ],
  })
  await value(ScoreChanged, scoreRoute, 'POST', { ...params(), body: { revision: 0, edits } })
  const body = { withStems: true, format: 'wav', withVideo: false }
  const { mix } = await value(MixStarted, mixesRoute, 'POST', { ...params(), body })
  await world.app.jobs.idle()
  const { mixes } = await value(VideoScore, scoreRoute, 'GET', params())
  for (const [position, { name }] of (mixes.find(({ id }) => id === mix.id)?.files ?? []).entries()) {
    const answer = await call(mixFileRoute, 'GET', { params: { id: String(mix.id), position: String(position + 1) } })
    const bytes = new Uint8Array(await answer.arrayBuffer())
    files.set(name.replace(/^.*, |\.wav$/g, ''), readWav(bytes).channels)
  }
})
afterAll(() => world.close())

const channelsOf = (name: string): readonly Float32Array[] => {
  const channels = files.get(name)
  if (!channels) throw new Error(`${name} is none of ${[...files.keys()].join(', ')}`)
  return channels
}

describe('a mix that was written, measured', () => {
  it('has a hit within two thousandths of a second of its moment', () => {
    const placed = placementOf('by-its-hit')
    const startS = startOf('Ice crack', channelsOf('Effects')[0] as Float32Array, placed.startS)
    const hitS = startS + (placed.hitS as number) - placed.fromS
    expect(placed.hitS).not.toBeNull()
    expect(Math.abs(hitS - 3.2104)).toBeLessThan(0.002)
    expect(hitTimeS(placed)).toBeCloseTo(3.2104, 9)
  })

  it('has a sound at the level that was asked, within 0.2 LU', async () => {
    const placement = placementOf('bell')
    const { lufs } = await value(LoudnessAnswer, loudnessRoute, 'POST', { body: { placement } })
    const [fromFrame, endFrame] = [placement.startS, placementEndS(placement)].map((timeS) =>
      Math.round(timeS * RATE_HZ),
    )
    const heard = channelsOf('Effects').map((channel) => channel.slice(fromFrame, endFrame))
    const measured = clipLoudness(heard, RATE_HZ).integratedLufs as number
    expect(lufs).not.toBeNull()
    expect(Math.abs(measured - ((lufs as number) + placement.gainDb))).toBeLessThan(0.2)
  })

  it('is nowhere over its ceiling, though a sound is far over it', () => {
    const mix = channelsOf('mix')
    // 0.05 dB are left to whoever measures it another way.
    expect(clipLoudness([...mix], RATE_HZ).truePeakDbtp as number).toBeLessThanOrEqual(CEILING_DBTP + 0.05)
    const loud = channelsOf('Loud')[0] as Float32Array
    expect(loud.reduce((most, one) => Math.max(most, Math.abs(one)), 0)).toBeGreaterThan(0.9)
  })

  it('ends a sound that is cut off without a click', () => {
    const end = Math.round(placementEndS(placementOf('cut-off')) * RATE_HZ)
    const stem = channelsOf('Loud')[0] as Float32Array
    const peak = (from: number, to: number) =>
      stem.slice(from, to).reduce((most, one) => Math.max(most, Math.abs(one)), 0)
    expect(peak(end - 2400, end - 480)).toBeGreaterThan(0.2)
    expect(peak(end - 24, end)).toBeLessThan(0.1)
    expect(peak(end, end + 4800)).toBe(0)
  })

  it('is heard in a check as it was planned: every sound, each within 20 ms', { tags: 'long' }, async () => {
    const mix = channelsOf('mix')
    const { checkId } = await bringExport(world.app, videoId, writeWav({ sampleRateHz: RATE_HZ, channels: [...mix] }))
    const found = await value(PlannedHeard, plannedRoute, 'GET', params())
    expect(found).toMatchObject({ checkId, isSamePlan: true, plannedOnly: [], heardOnly: [] })
    expect(found.both.map(({ placementId }) => placementId).sort()).toEqual(['bell', 'by-its-hit', 'cut-off'])
    for (const { laterS } of found.both) expect(Math.abs(laterS)).toBeLessThan(0.02)
  })
})
