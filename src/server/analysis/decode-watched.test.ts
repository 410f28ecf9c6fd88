import path from 'node:path'
import { setTimeout } from 'node:timers/promises'
import type { MessagePort } from 'node:worker_threads'
import Piscina from 'piscina'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { NODE_DIR, ROOT } from '../../../test/world'
import { createPool, type Pool } from '../workers/pool'
import { decodeWatched, inspectWatched, type WatchedDecoding } from './decode-watched'

const FILES = path.join(ROOT, 'test', 'files')
const options = { trackIndex: 0, onProgress: () => {} }

describe('a decoder that hangs', () => {
  const pool = new Piscina({ filename: path.join(ROOT, 'test', 'hanging-worker.mjs'), maxThreads: 2 })
  afterAll(() => pool.destroy())

  it('gives what came before, said to have stalled', { tags: 'long' }, async () => {
    const { track, voices } = await decodeWatched(pool, 'any.mkv', { ...options, stallMs: 800 })
    expect(track.end).toBe('stalled')
    expect(track.durationS).toBeGreaterThan(0.9)
    expect(track.durationS).toBeLessThan(1)
    expect((await voices).length).toBe(31)
  })

  it('can be cancelled', async () => {
    const controller = new AbortController()
    const decoding = decodeWatched(pool, 'any.mkv', { ...options, signal: controller.signal })
    void setTimeout(500).then(() => controller.abort())
    await expect(decoding).rejects.toMatchObject({ name: 'AbortError' })
  })
})

describe('where someone speaks', () => {
  /** Threads that note what they are asked for and do it only when the test says so. */
  class Asked {
    readonly names: string[] = []
    private port: MessagePort | undefined
    private done: (result: object) => void = () => undefined
    readonly run: Pool['run'] = (task, { name = '' } = {}) => {
      this.names.push(name ?? '')
      if (name === 'hearVoices') return Promise.resolve({ ok: true, value: new Float32Array(31) })
      this.port = (task as { port: MessagePort }).port
      return new Promise((resolve) => {
        this.done = resolve
      })
    }
    begin = (): void => this.port?.postMessage(0)
    end = (): void => this.done({ ok: true, value: { durationS: 1 } })
  }
  const decode = (asked: Asked) => decodeWatched(asked as unknown as Pool, 'any.wav', options)

  it('is asked for once the decoding has a thread: else all threads could wait for decodings that get none', async () => {
    const asked = new Asked()
    const decoding = decode(asked)
    await setTimeout(50)
    expect(asked.names).toEqual(['decodeTrack'])
    asked.begin()
    await expect.poll(() => asked.names).toEqual(['decodeTrack', 'hearVoices'])
    asked.end()
    expect((await (await decoding).voices).length).toBe(31)
  })

  it('is asked for once, also where the decoding is over before it was seen to begin', async () => {
    const asked = new Asked()
    const decoding = decode(asked)
    asked.end()
    asked.begin()
    expect((await (await decoding).voices).length).toBe(31)
    expect(asked.names).toEqual(['decodeTrack', 'hearVoices'])
  })
})

const CLEAR_ERRORS = expect.stringMatching(/^(not-media|no-sound|bad-times)$/)

describe.each(['embedded', 'ffmpeg'])('a damaged file, by the decoder %s', (decoder) => {
  let pool: Pool
  beforeAll(() => {
    // The threads take the setting along when they start.
    process.env.THUD_DECODER = decoder
    pool = createPool(NODE_DIR, 2)
  })
  afterAll(async () => {
    delete process.env.THUD_DECODER
    await pool.destroy()
  })

  it.each(['tail-zero.mkv', 'tailzero-live.webm', 'c-flac_mkv-028-k8.mkv', 'c_webm-066-k6.webm', 'c-o_ogg-020-k0.ogg'])(
    '%s comes to an end, and is not called whole',
    { tags: 'long', timeout: 60_000 },
    async (name) => {
      const file = path.join(FILES, name)
      const decoding = inspectWatched(pool, file).then(() => decodeWatched(pool, file, options))
      const outcome = await decoding.catch((error: unknown) => error)
      if (outcome instanceof Error) return expect(outcome).toMatchObject({ name: 'MediaError', code: CLEAR_ERRORS })
      const { track } = outcome as WatchedDecoding
      expect(track.durationS).toBeGreaterThan(0.5)
      expect(track.durationS).toBeLessThan(120)
      expect(track.end !== 'whole' || track.missing.length > 0).toBe(true)
    },
  )
})
