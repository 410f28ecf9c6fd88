// @module-tag long
import { spawnSync } from 'node:child_process'
import fs from 'node:fs'
import path from 'node:path'
import { Readable } from 'node:stream'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { type Cut, MomentsChanged } from '../src/contract'
import { PEAK_FRAMES } from '../src/core/audio'
import { writeWav } from '../src/core/formats/wav'
import { newMoment } from '../src/core/moments'
import { bringCut, readCutAgain } from '../src/server/cuts/bring-cut'
import {
  getFrameTimesFile,
  readCutSamples,
  readPeaks,
  readStripPicture,
  takeFrameTimes,
  takePicture,
  takeStrip,
} from '../src/server/cuts/cut-files'
import { changeMoments, getMoments } from '../src/server/moments/moments'
import { loadPrintedMoments, momentsHtml, momentsPdf, printable } from '../src/server/moments/printed-list'
import { suggestMoments } from '../src/server/moments/suggest'
import { setRemoved } from '../src/server/removal/remove'
import { sweep } from '../src/server/removal/room'
import { setCaptions } from '../src/server/videos/captions'
import { makeVideo, openWorld, ROOT, temporaryDir, type World } from './world'

let world: World
const made = temporaryDir('cuts')
beforeAll(async () => {
  world = await openWorld('cuts-app')
})
afterAll(async () => {
  await world.close()
  fs.rmSync(made, { recursive: true })
})

const demoCut = (number: 1 | 2): string => path.join(ROOT, 'demo', 'files', `dome-rough-cut-${number}.mp4`)

/** Brings a file as a cut and waits until it was read. */
async function bring(videoId: number, file: string, name = path.basename(file)): Promise<number> {
  const upload = {
    name,
    body: Readable.from(fs.readFileSync(file)),
    sizeBytes: null,
    signal: new AbortController().signal,
  }
  const { cutId } = await bringCut(world.app, videoId, upload)
  await world.app.jobs.idle()
  return cutId
}

async function cutOfVideo(videoId: number): Promise<Cut> {
  const { cut } = await getMoments(world.app, videoId)
  if (!cut) throw new Error('there is no cut')
  return cut
}

/** Makes a film with ffmpeg: a moving test picture and a tone. */
function film(name: string, args: readonly string[]): string {
  const file = path.join(made, name)
  const { status, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-y', ...args, file], { encoding: 'utf8' })
  expect(status, stderr).toBe(0)
  return file
}
const PICTURE = (size = '320x180', rate = '25', seconds = 2): string[] => [
  '-f',
  'lavfi',
  '-i',
  `testsrc=size=${size}:rate=${rate}:duration=${seconds}`,
]
const TONE = (seconds = 2): string[] => ['-f', 'lavfi', '-i', `sine=frequency=440:duration=${seconds}`]
const H264 = ['-c:v', 'libx264', '-preset', 'ultrafast', '-pix_fmt', 'yuv420p']

describe('a rough cut', () => {
  it('is read once: sound, picture, strip, what happens in it', async () => {
    const videoId = await makeVideo(world.app)
    await bring(videoId, demoCut(1))
    const cut = await cutOfVideo(videoId)
    expect(cut.state).toBe('done')
    expect(cut.sound).toMatchObject({ end: 'whole', missing: [] })
    expect(cut.sound?.durationS).toBeCloseTo(44, 1)
    expect(cut.sound?.segments.some(({ kind }) => kind === 'speech')).toBe(true)
    expect(cut.picture).toMatchObject({
      frameRate: { num: 24, den: 1 },
      isVariable: false,
      frameCount: 1056,
      widthPx: 640,
      note: '',
    })
    const changes = cut.picture?.events
      .filter(({ kind }) => kind === 'shot-change')
      .map(({ timeS }) => Math.round(timeS))
    expect(changes).toEqual([8, 15, 22, 31, 39])
    const jpeg = await readStripPicture(world.app, cut.id, 3)
    expect([...jpeg.slice(0, 2), ...jpeg.slice(-2)]).toEqual([0xff, 0xd8, 0xff, 0xd9])
    await expect(readStripPicture(world.app, cut.id, 5000)).rejects.toMatchObject({ code: 'not-found' })
  })

  it('has a waveform at every zoom that is that of its samples', async () => {
    const samples = new Float32Array(96_000).map((_, i) => 0.8 * Math.sin(i / 300) * (i > 48_000 ? 0.25 : 1))
    const file = path.join(made, 'tone.wav')
    fs.writeFileSync(file, writeWav({ sampleRateHz: 48_000, channels: [samples] }, { bits: 24 }))
    const videoId = await makeVideo(world.app)
    const cutId = await bring(videoId, file)
    const { sound, picture, wantsPicture } = await cutOfVideo(videoId)
    expect(picture).toBeNull()
    expect(wantsPicture).toBe(false)
    expect(sound?.peaks.lengthFrames).toBe(96_000)
    const at = 40_000
    const pairs = new Int8Array(await readPeaks(world.app, cutId, { level: 0, from: at / PEAK_FRAMES, count: 10 }))
    const part = samples.slice(at, at + PEAK_FRAMES)
    expect(Math.abs((pairs[1] ?? 0) / 127 - Math.max(...part))).toBeLessThan(0.02)
    expect(Math.abs((pairs[0] ?? 0) / 127 - Math.min(...part))).toBeLessThan(0.02)
    const range = { startS: at / 48_000, endS: at / 48_000 + 0.1 }
    const direct = await readCutSamples(world.app, cutId, range, new AbortController().signal)
    expect(direct.samples).toHaveLength(4800)
    for (const i of [0, 17, 4799]) expect(direct.samples[i]).toBeCloseTo(samples[at + i] ?? 9, 4)
    await expect(readPeaks(world.app, cutId, { level: 0, from: 1e6, count: 1 })).rejects.toMatchObject({
      code: 'range',
    })
    await expect(
      readCutSamples(world.app, cutId, { startS: 0, endS: 5 }, new AbortController().signal),
    ).rejects.toMatchObject({ code: 'bad-range' })
  })

  it('without sound is a cut too', async () => {
    const videoId = await makeVideo(world.app)
    await bring(videoId, film('silent.mp4', [...PICTURE(), ...H264]))
    expect(await cutOfVideo(videoId)).toMatchObject({ state: 'done', sound: null, picture: { frameCount: 50 } })
  })

  it.each([
    ['of one frame', 'one.mp4', [...PICTURE('320x180', '25', 0.04), ...H264], { frameCount: 1 }],
    [
      'with B-frames and an edit list',
      'b.mp4',
      [...PICTURE(), ...TONE(), '-c:v', 'libx264', '-bf', '3', '-pix_fmt', 'yuv420p', '-ss', '0.5'],
      { frameCount: 37 },
    ],
    [
      'at 29.97',
      'ntsc.mp4',
      [...PICTURE('320x180', '30000/1001'), ...TONE(), ...H264],
      { frameRate: { num: 30000, den: 1001 } },
    ],
    [
      'whose frames come unevenly',
      'vfr.mkv',
      [...PICTURE(), ...TONE(), '-vf', "select='not(mod(n,2))+lt(n,20)'", '-fps_mode', 'vfr', ...H264],
      { isVariable: true, frameCount: 35 },
    ],
  ] as const)('%s is read', async (_, name, args, expected) => {
    const videoId = await makeVideo(world.app)
    await bring(videoId, film(name, [...args]))
    const { picture, state } = await cutOfVideo(videoId)
    expect(state).toBe('done')
    expect(picture).toMatchObject(expected)
  })

  it('that was turned by its camera is as wide as it is shown', async () => {
    const upright = film('flat.mp4', [...PICTURE(), ...TONE(), ...H264])
    const turned = film('turned.mp4', ['-i', upright, '-c', 'copy', '-metadata:s:v:0', 'rotate=90'])
    const videoId = await makeVideo(world.app)
    await bring(videoId, turned)
    const { picture } = await cutOfVideo(videoId)
    expect([picture?.widthPx, picture?.heightPx]).toEqual([180, 320])
  })

  it.each([
    ['text.mp4', Buffer.from('no film at all '.repeat(50)), 'neither a sound track nor a picture'],
    ['junk.mkv', Buffer.alloc(4000, 7), 'neither a sound track nor a picture'],
  ])('%s says in one sentence what it is not', async (name, bytes, words) => {
    const file = path.join(made, name)
    fs.writeFileSync(file, bytes)
    const videoId = await makeVideo(world.app)
    const cutId = await bring(videoId, file)
    const { cut, versions } = await getMoments(world.app, videoId)
    expect(cut).toBeNull()
    expect(versions).toEqual([expect.objectContaining({ id: cutId, state: 'failed' })])
    expect(versions[0]?.message).toContain(words)
    // Tried again, it fails again and is no second version.
    await readCutAgain(world.app, cutId)
    await world.app.jobs.idle()
    expect((await getMoments(world.app, videoId)).versions).toHaveLength(1)
  })

  it.each([
    ['cut.exe', 3, 'unsupported-ending'],
    ['cut.mp4', 0, 'empty-file'],
  ])('%s of %i bytes is refused', async (name, size, code) => {
    const file = path.join(made, name)
    fs.writeFileSync(file, Buffer.alloc(size))
    await expect(bring(await makeVideo(world.app), file)).rejects.toMatchObject({ code })
  })

  it('goes on after a restart in the middle of reading it', async () => {
    const videoId = await makeVideo(world.app)
    const upload = {
      name: 'a.mp4',
      body: Readable.from(fs.readFileSync(demoCut(1))),
      sizeBytes: null,
      signal: new AbortController().signal,
    }
    await bringCut(world.app, videoId, upload)
    await world.reopen()
    await world.app.jobs.idle()
    expect(await cutOfVideo(videoId)).toMatchObject({ state: 'done', picture: { frameCount: 1056 } })
  })

  it('and all that was read of it stay when unused files are cleared, and go with it', async () => {
    const videoId = await makeVideo(world.app)
    const cutId = await bring(videoId, film('kept.mp4', [...PICTURE('320x180', '25', 3), ...TONE(3), ...H264]))
    const signal = new AbortController().signal
    await sweep(world.app, { nowMs: Date.now() + 1e9, signal, graceMs: 0 })
    expect((await readStripPicture(world.app, cutId, 0)).length).toBeGreaterThan(100)
    await setRemoved(world.app, 'cuts', { id: cutId, removed: true })
    expect((await getMoments(world.app, videoId)).versions).toEqual([])
    await setRemoved(world.app, 'cuts', { id: cutId, removed: false })
    expect((await getMoments(world.app, videoId)).versions).toHaveLength(1)
  })

  it('whose picture the browser reads is taken only once, and only with what lies in the strip', async () => {
    const videoId = await makeVideo(world.app)
    const cutId = await bring(videoId, film('browser.mp4', [...PICTURE(), ...TONE(), ...H264]))
    await world.app.db
      .updateTable('cuts')
      .set({ picture_json: null, strip_sha256: null })
      .where('id', '=', cutId)
      .execute()
    expect((await cutOfVideo(videoId)).wantsPicture).toBe(true)
    await takeStrip(world.app, cutId, Readable.from([Buffer.alloc(100)]), new AbortController().signal)
    const picture = {
      durationS: 2,
      frameRate: { num: 25, den: 1 },
      isVariable: false,
      frameCount: 50,
      widthPx: 320,
      heightPx: 180,
      events: [],
      strip: [{ timeS: 0, offset: 0, bytes: 101 }],
      note: '',
    }
    await expect(takePicture(world.app, cutId, picture)).rejects.toMatchObject({ code: 'bad-range' })
    const uneven = { ...picture, isVariable: true, strip: [{ timeS: 0, offset: 0, bytes: 100 }] }
    await expect(takePicture(world.app, cutId, uneven)).rejects.toMatchObject({ code: 'bad-range' })
    const take = (count: number) =>
      takeFrameTimes(world.app, cutId, Readable.from([Buffer.alloc(4 * count, 7)]), new AbortController().signal)
    await take(49)
    await expect(takePicture(world.app, cutId, uneven)).rejects.toMatchObject({ code: 'bad-range' })
    await take(50)
    await takePicture(world.app, cutId, uneven)
    expect(fs.statSync(world.app.store.blobPath(await getFrameTimesFile(world.app.db, cutId))).size).toBe(200)
    await expect(take(50)).rejects.toMatchObject({ code: 'already' })
    expect((await cutOfVideo(videoId)).wantsPicture).toBe(false)
    await expect(takePicture(world.app, cutId, picture)).rejects.toMatchObject({ code: 'already' })
  })
})

describe('moments of a video', () => {
  const save = async (videoId: number, revision: number, ...edits: Parameters<typeof changeMoments>[2]['edits']) =>
    MomentsChanged.parse(await changeMoments(world.app, videoId, { revision, edits }))

  it('are saved edit by edit, and an edit on an older revision does nothing', async () => {
    const videoId = await makeVideo(world.app)
    expect(await save(videoId, 0, { do: 'add', moments: [newMoment('a', 1)] })).toEqual({
      outcome: 'saved',
      revision: 1,
    })
    const late = await save(videoId, 0, { do: 'add', moments: [newMoment('b', 2)] })
    expect(late).toMatchObject({ outcome: 'changed-meanwhile', revision: 1, document: { moments: [{ id: 'a' }] } })
    await expect(save(videoId, 1, { do: 'remove', ids: ['b'] })).rejects.toMatchObject({ code: 'bad-edit' })
    // Of several edits none is done when one cannot be.
    const both = save(videoId, 1, { do: 'add', moments: [newMoment('c', 3)] }, { do: 'remove', ids: ['gone'] })
    await expect(both).rejects.toMatchObject({ code: 'bad-edit' })
    expect((await getMoments(world.app, videoId)).document.moments.map(({ id }) => id)).toEqual(['a'])
  })

  it('are carried over to a new cut, and what was cut out is marked', async () => {
    const videoId = await makeVideo(world.app)
    await bring(videoId, demoCut(1))
    const moments = [
      newMoment('stays', 5),
      newMoment('out', 12.8, { words: 'motor' }),
      newMoment('kettle', 26.6),
      newMoment('ice', 15.5),
      newMoment('end', 40, { endS: 42 }),
    ]
    await save(videoId, 0, { do: 'add', moments })
    await bring(videoId, demoCut(2))
    const { document, cut, revision } = await getMoments(world.app, videoId)
    expect(revision).toBe(2)
    const at = (id: string) => document.moments.find((moment) => moment.id === id)
    const FRAME_S = 1 / 24
    expect(at('stays')?.atS).toBe(5)
    expect(Math.abs((at('kettle')?.atS ?? 0) - 18.1)).toBeLessThan(FRAME_S)
    expect(Math.abs((at('ice')?.atS ?? 0) - 23)).toBeLessThan(FRAME_S)
    expect(Math.abs((at('end')?.endS ?? 0) - 40.5)).toBeLessThan(FRAME_S)
    expect(at('out')?.cutOutFromS).toBe(12.8)
    expect(Math.abs((at('out')?.atS ?? 0) - 12)).toBeLessThan(2 * FRAME_S)
    expect(cut?.carried?.carried.map(({ id, what }) => [id, what])).toEqual([
      ['out', 'cut-out'],
      ['ice', 'moved'],
      ['kettle', 'moved'],
      ['end', 'moved'],
    ])
    expect(cut?.carried?.stayed).toBe(1)
  })

  it('go back to the cut before when the newer one is removed, and forward again when it is brought back', async () => {
    const videoId = await makeVideo(world.app)
    await bring(videoId, demoCut(1))
    const noted = [newMoment('stays', 5), newMoment('out', 12.8), newMoment('kettle', 26.6, { endS: 27.6 })]
    await save(videoId, 0, { do: 'add', moments: noted })
    const newest = await bring(videoId, demoCut(2))
    const moved = (await getMoments(world.app, videoId)).document.moments
    expect(moved.map(({ cutOutFromS }) => cutOutFromS)).toEqual([null, 12.8, null])
    // Noted over the newer cut, in a part that stood elsewhere in the older one: 18.1 s there is 26.6 s here.
    await save(videoId, 2, { do: 'add', moments: [newMoment('later', 18.6)] })
    const remove = async (id: number, removed: boolean) => {
      await setRemoved(world.app, 'cuts', { id, removed })
      await world.app.jobs.idle()
      return getMoments(world.app, videoId)
    }
    const back = await remove(newest, true)
    expect(back.cut?.fileName).toContain('1')
    const sorted = [...noted].sort((a, b) => a.atS - b.atS)
    expect(back.document.moments.filter(({ id }) => id !== 'later')).toEqual(sorted)
    const later = back.document.moments.find(({ id }) => id === 'later')
    expect(Math.abs((later?.atS ?? 0) - 27.1)).toBeLessThan(1 / 24)
    const forward = await remove(newest, false)
    expect(forward.cut?.id).toBe(newest)
    const at = (id: string) => forward.document.moments.find((one) => one.id === id)
    for (const { id, atS, cutOutFromS } of moved) {
      expect(at(id)?.atS).toBeCloseTo(atS, 3)
      expect(at(id)?.cutOutFromS).toBe(cutOutFromS)
    }
    // The removal of a version that is not in use moves nothing.
    const older = back.cut?.id ?? 0
    expect((await remove(older, true)).document).toEqual(forward.document)
  })

  it('stay at their times where the new cut has no sound, and it is said', async () => {
    const videoId = await makeVideo(world.app)
    await bring(videoId, demoCut(1))
    await save(videoId, 0, { do: 'add', moments: [newMoment('a', 30)] })
    await bring(videoId, film('mute.mp4', [...PICTURE(), ...H264]))
    const { document, cut } = await getMoments(world.app, videoId)
    expect(document.moments[0]?.atS).toBe(30)
    expect(cut?.carried?.note).toContain('no sound track')
  })

  it('are suggested with their reasons, until they are put aside or noted', async () => {
    const videoId = await makeVideo(world.app)
    await bring(videoId, demoCut(1))
    const text = '1\n00:00:26,000 --> 00:00:28,000\nWe put the kettle on.\n\n2\n00:01:40,000 --> 00:01:41,000\nlate\n'
    await setCaptions(world.app, videoId, { name: 'a.srt', text })
    const first = await suggestMoments(world.app, videoId)
    expect(first.cuesBeyondEnd).toBe(1)
    const kettle = first.suggestions.find(({ kind }) => kind === 'word')
    expect(kettle).toMatchObject({ words: 'kettle', reason: expect.stringContaining('We put the kettle on.') })
    const flash = first.suggestions.find(({ kind }) => kind === 'flash')
    expect(flash?.atS).toBeCloseTo(18.5, 1)
    const aside = { kind: 'flash', atS: flash?.atS ?? 0 }
    await save(
      videoId,
      0,
      { do: 'dismiss', suggestions: [aside] },
      { do: 'add', moments: [newMoment('k', (kettle?.atS ?? 0) + 0.1)] },
    )
    const then = (await suggestMoments(world.app, videoId)).suggestions.map(({ kind }) => kind)
    expect(then).not.toContain('flash')
    expect(then).not.toContain('word')
    // Put aside, it does not come again with the next cut, in which it is elsewhere.
    await bring(videoId, demoCut(2))
    expect((await suggestMoments(world.app, videoId)).suggestions.filter(({ kind }) => kind === 'flash')).toEqual([])
  })

  it('are printed with what was written, and nothing of it is markup', async () => {
    const videoId = await makeVideo(world.app)
    await bring(videoId, demoCut(1))
    const words = '<b onclick=1>slam & "shut"</b> \u202eé ☃'
    await save(videoId, 0, { do: 'add', moments: [newMoment('a', 8, { words }), newMoment('b', 43, { endS: 44 })] })
    const list = await loadPrintedMoments(world.app, videoId)
    expect(list.rows.map(({ time }) => time)).toEqual(['00:00:08:00', '00:00:43:00 to 00:00:44:00'])
    const html = momentsHtml(list)
    expect(html).toContain('&lt;b onclick=1&gt;slam &amp; &quot;shut&quot;&lt;/b&gt;')
    expect(html).not.toContain('\u202e')
    expect(html.match(/data:image\/jpeg/g)).toHaveLength(2)
    const pdf = await momentsPdf(list)
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-')
    expect(pdf.length).toBeGreaterThan(3000)
    // The letters go along: a reader needs no fonts of its own.
    expect(pdf.toString('latin1')).toContain('DejaVuSans')
    const letters = 'Ночь, когда замёрз купол · Η νύχτα · đêm băng giá · łódź'
    expect(printable(letters)).toBe(letters)
    expect(printable('夜 and 🔔 7')).toBe('? and ? 7')
  })
})
