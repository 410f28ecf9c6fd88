import fs from 'node:fs'
import path from 'node:path'
import { Readable } from 'node:stream'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { takeInExport } from '../src/server/checks/start-check'
import { getCheckDetail } from '../src/server/clearance/check-detail'
import { todayIso } from '../src/server/database/open'
import { findVideoInHand, usesOfRow } from '../src/server/rows/video-rows'
import { getVideo } from '../src/server/videos/videos'
import { bringExport, finishedTrack, makeVideo, openWorld, usesOf, type World } from './world'

let world: World
beforeAll(async () => {
  world = await openWorld('exports')
})
afterAll(() => world.close())

const signal = new AbortController().signal

describe('the check of a file that cannot be read', () => {
  it.each([
    ['text.mp4', Buffer.from('This is no video. '.repeat(100)), 'is not a video or sound file'],
    ['cut.wav', Buffer.from(finishedTrack(1, [])).subarray(0, 30), 'file'],
  ])('ends in a sentence', async (name, bytes, words) => {
    const { checkId } = await bringExport(world.app, await makeVideo(world.app), bytes, name)
    const broken = await getCheckDetail(world.app, checkId, todayIso())
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
    const id = await makeVideo(world.app)
    await expect(bringExport(world.app, id, new Uint8Array(size), name)).rejects.toMatchObject({ code })
    expect((await getVideo(world.app, id, todayIso())).state).toEqual({ kind: 'not-checked' })
  })

  it('over 4 GB is refused before it is sent', async () => {
    const id = await makeVideo(world.app)
    const upload = { name: 'big.mp4', body: Readable.from([]), sizeBytes: 5 * 1024 ** 3, signal }
    await expect(takeInExport(world.app, id, upload)).rejects.toMatchObject({ code: 'too-large' })
  })

  it('that breaks off leaves nothing behind and can be brought again', { tags: 'long' }, async () => {
    const id = await makeVideo(world.app)
    const body = Readable.from(
      (function* () {
        yield Buffer.alloc(1000)
        throw new Error('cable')
      })(),
    )
    const upload = { name: 'final.wav', body, sizeBytes: 5000, signal }
    await expect(takeInExport(world.app, id, upload)).rejects.toMatchObject({ code: 'upload-broke-off' })
    expect(fs.readdirSync(path.join(world.dir, 'incoming'))).toEqual([])
    expect((await bringExport(world.app, id, finishedTrack(2, []))).checkId).toBeGreaterThan(0)
  })

  it('for a video that is not there is refused', async () => {
    await expect(bringExport(world.app, 99999, new Uint8Array(4))).rejects.toMatchObject({ code: 'not-found' })
  })
})

describe('the video in hand', () => {
  it('is the one made last, and stays over a restart', async () => {
    const made = await makeVideo(world.app, 'The newest', usesOf({ places: ['cinema'] }))
    await world.reopen()
    const inHand = await findVideoInHand(world.app.db)
    expect(inHand?.id).toBe(made)
    expect(inHand && usesOfRow(inHand).places).toEqual(['cinema'])
  })
})
