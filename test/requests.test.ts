import { Readable } from 'node:stream'
import { describe, expect, it } from 'vitest'
import { z } from 'zod'
import { writeWav } from '../src/core/formats/wav'
import { jsonBody } from '../src/server/answer'
import { takeInExport } from '../src/server/checks/start-check'
import { copyPart } from '../src/server/copies/copy-part'
import { probeSound } from '../src/server/finding/probes'
import { takeInFromElsewhere } from '../src/server/folders/elsewhere'
import { getSoundDetail } from '../src/server/sounds/sound-detail'
import { download, finishedTrack, makeVideo, mirrorAll, soundId, soundSamples, worldForEach } from './world'

const world = worldForEach('requests', (first) => mirrorAll(first, ['tin-barn']))
const signal = new AbortController().signal

function bring(videoId: number, bytes: Uint8Array, name = 'film.wav') {
  const body = Readable.from([Buffer.from(bytes)])
  return takeInExport(world().app, videoId, { name, body, sizeBytes: bytes.length, signal })
}

describe('the same finished file', () => {
  it('brought eight times at once is one file with one check', async () => {
    const videoId = await makeVideo(world().app)
    const bytes = finishedTrack(3, [['b1', 1, -6]])
    const brought = await Promise.all(Array.from({ length: 8 }, () => bring(videoId, bytes)))
    expect(new Set(brought.map(({ exportId }) => exportId)).size).toBe(1)
    expect(new Set(brought.map(({ checkId }) => checkId)).size).toBe(1)
    await world().app.jobs.idle()
    expect(await world().app.db.selectFrom('checks').select('state').execute()).toEqual([{ state: 'done' }])
    // Checked once more when it is brought after that, and it is still one file.
    const again = await bring(videoId, bytes)
    expect(again.exportId).toBe(brought[0]?.exportId)
    expect(again.checkId).not.toBe(brought[0]?.checkId)
    await world().app.jobs.idle()
  })

  it('brought after another one is the newest again', async () => {
    const videoId = await makeVideo(world().app)
    const [one, two] = [finishedTrack(3, [['b1', 1, -6]]), finishedTrack(3, [['b3', 1, -6]])]
    const ids: number[] = []
    for (const bytes of [one, two, one]) ids.push((await bring(videoId, bytes)).exportId)
    expect(new Set(ids).size).toBe(3)
    await world().app.jobs.idle()
  })

  it('of two videos is a file of each', async () => {
    const bytes = finishedTrack(3, [])
    const ids = await Promise.all(
      ['One', 'Two'].map(async (title) => (await bring(await makeVideo(world().app, title), bytes)).exportId),
    )
    expect(new Set(ids).size).toBe(2)
    await world().app.jobs.idle()
  })
})

describe('a part that lies outside of a sound', () => {
  it.each([
    [500, 510, 'outside'],
    [-1, 2, 'bad-range'],
    [2, 1, 'bad-range'],
    [Number.NaN, 1, 'bad-range'],
    [0, Number.POSITIVE_INFINITY, 'bad-range'],
  ])('from %d to %d s is refused as %s', async (startS, endS, code) => {
    await download(world().app, 'Ice crack')
    const id = await soundId(world().app, 'Ice crack')
    await expect(probeSound(world().app, id, { startS, endS }, signal)).rejects.toMatchObject({ code })
    const { copy } = await getSoundDetail(world().app, id, null)
    await expect(copyPart(world().app, copy?.sha256 ?? '', { startS, endS }, signal)).rejects.toMatchObject({ code })
  })
})

describe('names from outside', () => {
  it('are shown and not obeyed, wherever they come from', async () => {
    world().barn.control.fault = 'turning-names'
    await world().app.jobs.enqueue('mirror', 'tin-barn', 'Sync')
    await world().app.jobs.idle()
    const titles = await world().app.db.selectFrom('sounds').select(['title', 'page_url']).execute()
    expect(titles.map(({ title }) => title)).toContain('Ice crack\ufffdvaw')
    expect(titles.every(({ page_url }) => page_url === null)).toBe(true)
    const samples = writeWav({ sampleRateHz: 48000, channels: [soundSamples('o1')] })
    const body = Readable.from([Buffer.from(samples)])
    const name = 'harm\u202efdp.exe.wav'
    const { soundId: id } = await takeInFromElsewhere(world().app, { name, body, range: null, signal })
    await world().app.jobs.idle()
    expect((await getSoundDetail(world().app, id, null)).title).toBe('harm_fdp.exe')
  })
})

describe('a body that is nested', () => {
  it('deeper than any request is refused before it is parsed', async () => {
    const request = (body: string) => new Request('http://localhost/', { method: 'POST', body })
    await expect(jsonBody(request(`${'['.repeat(100_000)}`), z.unknown())).rejects.toMatchObject({ code: 'bad-json' })
    expect(await jsonBody(request('{"a":[1]}'), z.unknown())).toEqual({ a: [1] })
  })
})
