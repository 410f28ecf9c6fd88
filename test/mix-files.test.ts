// @module-tag long
import { execFileSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { Readable } from 'node:stream'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { type MixOptions, MixStarted, ScoreChanged, VideoScore, type WrittenMix } from '../src/contract'
import { hitPointS } from '../src/core/audio'
import { readWav } from '../src/core/formats/wav'
import { newLayer, newPlacement, type ScoreEdit } from '../src/core/score'
import * as mixFileRoute from '../src/pages/api/mixes/[id]/[position]'
import * as mixesRoute from '../src/pages/api/videos/[id]/mixes'
import * as scoreRoute from '../src/pages/api/videos/[id]/score'
import { bringCut } from '../src/server/cuts/bring-cut'
import { call, serveApp, value } from './call'
import { makeVideo, mirrorAll, openWorld, soundId, temporaryDir, type World } from './world'

const made = temporaryDir('mix-films')
let world: World
beforeAll(async () => {
  world = await openWorld('mix-files')
  serveApp(world.app)
  await mirrorAll(world, ['tin-barn'])
})
afterAll(async () => {
  await world.close()
  fs.rmSync(made, { recursive: true })
})

const RATE_HZ = 48_000
const PLAIN: MixOptions = { withStems: false, format: 'wav', withVideo: false }
const EFFECTS: ScoreEdit = { do: 'add-layer', layer: newLayer('fx', 'Effects', 'effects'), atIndex: 0 }
const CUT_LAYER = newLayer('own', 'Sound of the cut', 'cut')
const OWN: ScoreEdit = { do: 'add-layer', layer: CUT_LAYER, atIndex: 1 }

/** Six seconds: a moving picture with B-frames, and a click at each whole second. @param codecs Arguments of ffmpeg. */
function film(name: string, codecs: readonly string[]): string {
  const file = path.join(made, name)
  const picture = ['-f', 'lavfi', '-i', 'testsrc2=size=320x180:rate=25:duration=6']
  const clicks = ['-f', 'lavfi', '-i', "aevalsrc='0.5*lt(mod(t,1),0.004)*gt(t,0.5)*sin(6283*t)':d=6:s=48000"]
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...picture, ...clicks, ...codecs, file])
  return file
}
const H264 = ['-c:v', 'libx264', '-bf', '2', '-pix_fmt', 'yuv420p', '-c:a', 'pcm_s16le', '-f', 'mov']

/** A video with a thud at 2.5 s of its cut. */
async function videoWith(file: string, more: readonly ScoreEdit[] = []): Promise<number> {
  const videoId = await makeVideo(world.app, 'A night film')
  const signal = new AbortController().signal
  const body = Readable.from(fs.readFileSync(file))
  await bringCut(world.app, videoId, { name: path.basename(file), body, sizeBytes: null, signal })
  await world.app.jobs.idle()
  const audio = { kind: 'preview', soundId: await soundId(world.app, 'Dull thud') } as const
  const thud = newPlacement('p', { layerId: 'fx', audio, startS: 2.5, toS: 0.4 })
  const edits = [EFFECTS, ...more, { do: 'add', placements: [thud] }]
  await value(ScoreChanged, scoreRoute, 'POST', { params: { id: String(videoId) }, body: { revision: 0, edits } })
  return videoId
}

async function written(videoId: number, options: Partial<MixOptions>): Promise<WrittenMix> {
  const params = { id: String(videoId) }
  const body = { ...PLAIN, ...options }
  const { mix } = await value(MixStarted, mixesRoute, 'POST', { params, body })
  await world.app.jobs.idle()
  const { mixes } = await value(VideoScore, scoreRoute, 'GET', { params })
  return mixes.find(({ id }) => id === mix.id) as WrittenMix
}

async function fileOf(mix: WrittenMix, position: number): Promise<{ bytes: Buffer; mime: string | null }> {
  const answer = await call(mixFileRoute, 'GET', { params: { id: String(mix.id), position: String(position) } })
  return { bytes: Buffer.from(await answer.arrayBuffer()), mime: answer.headers.get('content-type') }
}

/** What another decoder makes of a file. */
function decoded(bytes: Buffer, ending: string): Float32Array {
  const file = path.join(made, `decoded.${ending}`)
  fs.writeFileSync(file, bytes)
  const out = ['-map', '0:a:0', '-ac', '1', '-ar', String(RATE_HZ), '-f', 'f32le', '-']
  const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', file, ...out], { maxBuffer: 1e8 })
  return new Float32Array(new Uint8Array(raw).buffer)
}

/** Hashes of the frames of a picture, one a line. */
function frameHashes(file: string): string[] {
  const out = ['-map', '0:v:0', '-f', 'framemd5', '-']
  const lines = execFileSync('ffmpeg', ['-v', 'error', '-i', file, ...out], { encoding: 'utf8' }).split('\n')
  return lines.filter((line) => line && !line.startsWith('#')).map((line) => line.split(',').at(-1)?.trim() ?? '')
}

const around = (samples: Float32Array, atS: number): Float32Array =>
  samples.slice(Math.round((atS - 0.1) * RATE_HZ), Math.round((atS + 0.1) * RATE_HZ))
const loudest = (samples: Float32Array): number => samples.reduce((most, one) => Math.max(most, Math.abs(one)), 0)

describe('a mix', () => {
  it('as FLAC has the very samples that it has as WAV', async () => {
    const videoId = await videoWith(film('flac.mov', H264))
    const [wav, flac] = [await written(videoId, {}), await written(videoId, { format: 'flac', withStems: true })]
    expect([wav.message, flac.message]).toEqual(['', ''])
    expect(flac.files.map(({ name }) => name)).toEqual(['A night film, mix.flac', 'A night film, Effects.flac'])
    const [one, other] = [await fileOf(wav, 1), await fileOf(flac, 1)]
    expect(other.mime).toBe('audio/flac')
    expect(other.bytes.length).toBeLessThan(one.bytes.length)
    const asWav = decoded(one.bytes, 'wav')
    expect(loudest(asWav)).toBeGreaterThan(0.05)
    expect(decoded(other.bytes, 'flac')).toEqual(asWav)
  })

  it('has the cut’s own sound only where a layer is meant for it, at the level of that layer', async () => {
    const file = film('own.mov', H264)
    const level = async (more: readonly ScoreEdit[]): Promise<number> => {
      const mix = await written(await videoWith(file, more), {})
      const [left] = readWav((await fileOf(mix, 1)).bytes).channels
      return loudest(around(left as Float32Array, 4))
    }
    const half: ScoreEdit = { do: 'change-layers', changes: [{ id: 'own', to: { levelDb: -6.02 } }] }
    const muted: ScoreEdit = { do: 'change-layers', changes: [{ id: 'own', to: { isMuted: true } }] }
    const [none, whole, halved, silent] = [
      await level([]),
      await level([OWN]),
      await level([OWN, half]),
      await level([OWN, muted]),
    ]
    expect(none).toBe(0)
    expect(silent).toBe(0)
    expect(whole).toBeGreaterThan(0.2)
    expect(halved / whole).toBeCloseTo(0.5, 2)
  })

  it('goes under the picture, which stays as it is, frame by frame, and both keep together', async () => {
    const file = film('picture.mov', H264)
    const mix = await written(await videoWith(file, [OWN]), { withVideo: true })
    expect(mix.files.map(({ name }) => name)).toEqual(['A night film, mix.wav', 'A night film, with the mix.mp4'])
    const { bytes, mime } = await fileOf(mix, 2)
    expect(mime).toBe('video/mp4')
    const out = path.join(made, 'with-mix.mp4')
    fs.writeFileSync(out, bytes)
    expect(frameHashes(out)).toEqual(frameHashes(file))
    const [plain, under] = [decoded((await fileOf(mix, 1)).bytes, 'wav'), decoded(bytes, 'mp4')]
    for (const atS of [2.5, 4]) {
      const [wanted, is] = [hitPointS(around(plain, atS), RATE_HZ), hitPointS(around(under, atS), RATE_HZ)]
      expect(Math.abs((is ?? 9) - (wanted ?? 0)), `at ${atS} s`).toBeLessThanOrEqual(0.006)
    }
  })

  it('of a picture that MP4 does not take goes into Matroska; of a cut without picture there is no video', async () => {
    const vp8 = film('vp8.webm', ['-c:v', 'libvpx', '-b:v', '200k', '-deadline', 'realtime', '-c:a', 'libopus'])
    const mix = await written(await videoWith(vp8), { withVideo: true })
    expect(mix.files.at(-1)?.name).toBe('A night film, with the mix.mkv')
    const sound = path.join(made, 'sound.wav')
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'sine=duration=3', sound])
    const alone = await written(await videoWith(sound), { withVideo: true })
    expect(alone.files.map(({ name }) => name)).toEqual(['A night film, mix.wav'])
  })
})
