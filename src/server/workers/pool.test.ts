import fs from 'node:fs'
import path from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import { noise } from '../../../test/signals'
import { NODE_DIR, soundSamples, temporaryDir } from '../../../test/world'
import { writeWav } from '../../core/formats/wav'
import { decodedFeatures } from '../../core/hearing'
import { createPool, runTask, secondsByTask, TaskError } from './pool'
import type { DecodedTrack, SearchResult, SearchTask, SoundAnalysis } from './tasks'

const dir = temporaryDir('pool')
const pool = createPool(NODE_DIR, 2)
afterAll(async () => {
  await pool.destroy()
  fs.rmSync(dir, { recursive: true })
})

function wavFile(name: string, samples: Float32Array): string {
  const file = path.join(dir, name)
  fs.writeFileSync(file, writeWav({ sampleRateHz: 48000, channels: [samples] }))
  return file
}

describe('a task in a worker thread', () => {
  it('answers with its result', async () => {
    const file = wavFile('sound.wav', soundSamples('b1'))
    const featurePath = path.join(dir, 'sound.f32')
    const analysis = await runTask<SoundAnalysis>(pool, 'analyseSound', { path: file, featurePath })
    expect(analysis.durationS).toBeCloseTo(soundSamples('b1').length / 48000, 3)
    expect(analysis.printLevels.length).toBeGreaterThan(40)
    expect(analysis.loudnessLufs).toBeLessThan(0)
    const features = decodedFeatures(fs.readFileSync(featurePath))
    expect(features?.samples.length).toBe(Math.round(soundSamples('b1').length / 3))
    expect(fs.readdirSync(dir).filter((name) => name.endsWith('.part'))).toEqual([])
  })

  it('measures the loudness of a sound under 0.4 s', async () => {
    const file = wavFile('short.wav', noise(0.2 * 48000, 3, 0.3))
    const analysis = await runTask<SoundAnalysis>(pool, 'analyseSound', {
      path: file,
      featurePath: path.join(dir, 's.f32'),
    })
    expect(analysis.loudnessLufs).toBeGreaterThan(-40)
  })

  it('answers a bad file with its code', async () => {
    const file = path.join(dir, 'junk.wav')
    fs.writeFileSync(file, 'this is not a sound')
    await expect(runTask(pool, 'decodeTrack', { path: file, port: null })).rejects.toMatchObject({
      name: 'MediaError',
      code: 'not-media',
    })
  })

  it('answers a failure of its own as a task error', async () => {
    const task = { path: wavFile('other.wav', noise(9000, 2)), featurePath: path.join(dir, 'no', 'folder', 'f') }
    await expect(runTask(pool, 'analyseSound', task)).rejects.toBeInstanceOf(TaskError)
  })

  it('is counted by how long a thread was at it, failed or not, apart from other kinds', { tags: 'long' }, async () => {
    const counting = createPool(NODE_DIR, 1)
    expect([...secondsByTask(counting)]).toEqual([])
    const file = wavFile('counted.wav', noise(48000, 4))
    await runTask<SoundAnalysis>(counting, 'analyseSound', { path: file, featurePath: path.join(dir, 'counted.f32') })
    const one = secondsByTask(counting)
    await expect(runTask(counting, 'analyseSound', { path: `${file}.gone`, featurePath: file })).rejects.toThrow()
    const two = secondsByTask(counting)
    expect([...two.keys()]).toEqual(['analyseSound'])
    expect(one.get('analyseSound')).toBeGreaterThan(0)
    expect(two.get('analyseSound')).toBeGreaterThan(one.get('analyseSound') as number)
    await counting.destroy()
  })

  it('names the sounds whose features cannot be used, and searches the others', async () => {
    const damaged = path.join(dir, 'damaged.features')
    fs.writeFileSync(damaged, 'these are no features')
    const good = path.join(dir, 'good.features')
    await runTask(pool, 'analyseSound', { path: wavFile('good.wav', soundSamples('b2')), featurePath: good })
    const task: SearchTask = {
      track: { mid: new SharedArrayBuffer(4), side: null, frames: 2 },
      windows: [],
      sounds: [damaged, path.join(dir, 'gone'), good].map((file, index) => ({ index, path: file })),
      decoys: [],
      threshold: 8,
      treated: false,
    }
    const { unreadable } = await runTask<SearchResult>(pool, 'searchSounds', task)
    expect(unreadable).toEqual([
      { index: 0, reason: 'These are not the features of a sound.' },
      { index: 1, reason: 'Its stored features could not be read.' },
    ])
  })

  it('is stopped by its signal, and the pool works on', { tags: 'long' }, async () => {
    const file = wavFile('long.wav', noise(30 * 48000, 5, 0.1))
    const controller = new AbortController()
    const running = runTask<DecodedTrack>(
      pool,
      'decodeTrack',
      { path: file, port: null },
      { signal: controller.signal },
    )
    controller.abort()
    await expect(running).rejects.toMatchObject({ name: 'AbortError' })
    const track = await runTask<DecodedTrack>(pool, 'decodeTrack', { path: file, port: null })
    expect(track.durationS).toBeCloseTo(30, 2)
  })

  it('that answers at the moment it is stopped ends nothing but itself', async () => {
    const stopAfter = async (waitMs: number): Promise<void> => {
      const controller = new AbortController()
      const running = runTask(pool, 'groupSounds', { paths: [] }, { signal: controller.signal })
      await new Promise((resolve) => setTimeout(resolve, waitMs))
      controller.abort()
      await running.catch((error: unknown) => expect(error).toMatchObject({ name: 'AbortError' }))
    }
    for (const waitMs of [0, 1, 2, 3, 0, 1, 2, 3]) await stopAfter(waitMs)
    pool.emit('error', new Error('Unexpected message from Worker: { taskId: 7 }'))
    expect(await runTask(pool, 'groupSounds', { paths: [] })).toEqual({ groups: [], pieces: [], compared: [] })
  })

  it('has its turn in the order in which it was asked for, whether it can be stopped or not', async () => {
    const one = createPool(NODE_DIR, 1)
    const { signal } = new AbortController()
    const done: number[] = []
    const turns = [signal, signal, null, signal, null, null, signal, null].map((of, at) =>
      one.run(null, { name: 'nothing', signal: of }).then(() => done.push(at)),
    )
    await Promise.all(turns)
    expect(done).toEqual([0, 1, 2, 3, 4, 5, 6, 7])
    await one.destroy()
  })

  it('is not begun when its signal has fired already', async () => {
    const aborted = AbortSignal.abort()
    await expect(runTask(pool, 'decodeTrack', { path: '/x', port: null }, { signal: aborted })).rejects.toMatchObject({
      name: 'AbortError',
    })
  })
})

describe('a thread that cannot be started', () => {
  it('is started again: what waits for it is done, also when nothing else is asked for', async () => {
    const folder = path.join(dir, 'version')
    fs.mkdirSync(folder)
    const file = path.join(folder, 'worker.mjs')
    fs.writeFileSync(
      file,
      'export const nothing = () => null\nexport const twice = (x) => ({ ok: true, value: 2 * x.of })\nexport const forever = () => new Promise(() => setInterval(() => {}, 1000))\n',
    )
    const one = createPool(folder, 1)
    const problems: string[] = []
    one.on('error', (error: Error) => problems.push(error.message))
    expect(await runTask(one, 'twice', { of: 1 })).toBe(2)
    // A new version is being put in its place while a task is stopped and others wait.
    fs.renameSync(file, `${file}.new`)
    const controller = new AbortController()
    const stopped = runTask(one, 'forever', {}, { signal: controller.signal }).catch((error: Error) => error.name)
    const waiting = [3, 4].map((of) => runTask<number>(one, 'twice', { of }))
    controller.abort()
    expect(await stopped).toBe('AbortError')
    await expect.poll(() => problems.join(), { timeout: 20_000 }).toContain('worker.mjs')
    expect(one.threads).toHaveLength(0)
    fs.renameSync(`${file}.new`, file)
    expect(await Promise.all(waiting)).toEqual([6, 8])
    await one.destroy()
  })
})
