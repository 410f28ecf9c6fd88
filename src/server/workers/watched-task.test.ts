import path from 'node:path'
import Piscina from 'piscina'
import { afterAll, describe, expect, it } from 'vitest'
import { ROOT } from '../../../test/world'
import { runTask } from './pool'
import { runWatchedTask } from './watched-task'

const pool = new Piscina({
  filename: path.join(ROOT, 'test', 'hanging-worker.mjs'),
  minThreads: 1,
  maxThreads: 1,
  resourceLimits: { maxOldGenerationSizeMb: 48 },
})
afterAll(() => pool.destroy())

const HUNG = { name: 'MediaError', code: 'not-media', message: expect.stringContaining('comes to no end') }

describe('a task that reads a media file', () => {
  it('loses its thread when it gives nothing any more, and the next one runs', { tags: 'long' }, async () => {
    await expect(runWatchedTask(pool, 'hang', {}, { stallMs: 600 })).rejects.toMatchObject(HUNG)
    expect(await runWatchedTask(pool, 'think', { forMs: 1 })).toBe('thought')
  })

  it('loses its thread when it goes on for longer than its budget, however alive it seems', {
    tags: 'long',
  }, async () => {
    const trickling = runWatchedTask(pool, 'trickle', {}, { stallMs: 60_000, baseBudgetMs: 800 })
    await expect(trickling).rejects.toMatchObject(HUNG)
  })

  it('may compute for longer than it may be silent while it reads', { tags: 'long' }, async () => {
    expect(await runWatchedTask(pool, 'think', { forMs: 1500 }, { stallMs: 300 })).toBe('thought')
  })

  it('is not hung while it waits for a thread', { tags: 'long' }, async () => {
    const first = runWatchedTask(pool, 'think', { forMs: 1500 })
    const second = runWatchedTask(pool, 'think', { forMs: 1 }, { stallMs: 300, baseBudgetMs: 300 })
    expect(await Promise.all([first, second])).toEqual(['thought', 'thought'])
  })

  it('can be cancelled while it hangs, and is then cancelled and not damaged', async () => {
    const controller = new AbortController()
    const hanging = runWatchedTask(pool, 'hang', {}, { signal: controller.signal, stallMs: 60_000 })
    controller.abort()
    await expect(hanging).rejects.toMatchObject({ name: 'AbortError' })
  })

  it('does not begin when it was cancelled before', async () => {
    await expect(runWatchedTask(pool, 'think', { forMs: 1 }, { signal: AbortSignal.abort() })).rejects.toMatchObject({
      name: 'AbortError',
    })
  })

  it('that fills its memory ends with a sentence, and the process goes on', { tags: 'long' }, async () => {
    await expect(runTask(pool, 'fill', {})).rejects.toMatchObject({ name: 'MediaError', code: 'too-large' })
    expect(await runWatchedTask(pool, 'think', { forMs: 1 })).toBe('thought')
  })
})
