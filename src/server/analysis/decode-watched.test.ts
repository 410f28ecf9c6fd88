import path from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { NODE_DIR, ROOT } from '../../../test/world'
import { createPool, type Pool } from '../workers/pool'
import { decodeWatched } from './decode-watched'

const FILES = path.join(ROOT, 'test', 'files')
let pool: Pool

beforeAll(() => {
  // The threads take the setting along when they start.
  process.env.THUD_DECODER = 'embedded'
  pool = createPool(NODE_DIR, 2)
})
afterAll(async () => {
  delete process.env.THUD_DECODER
  await pool.destroy()
})

describe('a file on which the built-in decoder hangs', () => {
  it.each(['tail-zero.mkv', 'tailzero-live.webm'])(
    '%s gives what comes before, and says that it stalled',
    async (name) => {
      const { track, voices } = await decodeWatched(pool, path.join(FILES, name), {
        trackIndex: 0,
        onProgress: () => {},
        stallMs: 3000,
      })
      expect(track.durationS).toBeGreaterThan(1)
      expect(track.end).toBe('stalled')
      expect((await voices).length).toBeGreaterThan(0)
    },
  )

  it('can be cancelled while it hangs', async () => {
    const controller = new AbortController()
    const decoding = decodeWatched(pool, path.join(FILES, 'tail-zero.mkv'), {
      trackIndex: 0,
      onProgress: () => controller.abort(),
      signal: controller.signal,
    })
    await expect(decoding).rejects.toMatchObject({ name: 'AbortError' })
  })
})
