import { createHash } from 'node:crypto'
import fs from 'node:fs'
import path from 'node:path'
import { Readable } from 'node:stream'
import { afterAll, describe, expect, it } from 'vitest'
import { temporaryDir } from '../../../test/world'
import { isDiskFull } from './disk-full'
import { FileStore, TooLargeError } from './store'

const dir = temporaryDir('store')
const store = new FileStore(dir)
afterAll(() => fs.rmSync(dir, { recursive: true }))

function incoming(): string[] {
  return fs.readdirSync(path.join(dir, 'incoming'))
}

describe('FileStore', () => {
  it('keeps a file under the hash of its content', async () => {
    const bytes = Buffer.from('a sound, as it were')
    const stored = await store.storeStream(Readable.from([bytes.subarray(0, 5), bytes.subarray(5)]), { maxBytes: 100 })
    expect(stored).toEqual({ sha256: createHash('sha256').update(bytes).digest('hex'), sizeBytes: bytes.length })
    expect(fs.readFileSync(store.blobPath(stored.sha256))).toEqual(bytes)
    expect(store.has(stored.sha256)).toBe(true)
    expect(incoming()).toEqual([])
  })

  it('keeps the same content once', async () => {
    const take = () => store.storeStream(Readable.from([Buffer.from('twice')]), { maxBytes: 100 })
    const [first, second] = await Promise.all([take(), take()])
    expect(first).toEqual(second)
  })

  it('leaves nothing behind when too much comes', async () => {
    const endless = Readable.from(
      (function* () {
        for (let k = 0; k < 1000; k++) yield Buffer.alloc(1000)
      })(),
    )
    await expect(store.storeStream(endless, { maxBytes: 5000 })).rejects.toBeInstanceOf(TooLargeError)
    expect(incoming()).toEqual([])
  })

  it('leaves nothing behind when the stream breaks off or is cancelled', async () => {
    const broken = Readable.from(
      (function* () {
        yield Buffer.from('half')
        throw new Error('gone')
      })(),
    )
    await expect(store.storeStream(broken, { maxBytes: 5000 })).rejects.toThrow('gone')
    const controller = new AbortController()
    const waiting = store.storeStream(new Readable({ read() {} }), { maxBytes: 5000, signal: controller.signal })
    controller.abort()
    await expect(waiting).rejects.toThrow()
    expect(incoming()).toEqual([])
  })

  /** Runs something on a disk that takes a few bytes at a time, and no more than some in all. */
  async function onSmallDisk<T>(roomBytes: number, run: () => Promise<T>): Promise<T> {
    const open = fs.promises.open
    let left = roomBytes
    fs.promises.open = (async (...args: Parameters<typeof open>) => {
      const handle = await open(...args)
      const write = handle.write.bind(handle)
      handle.write = (async (chunk: Buffer, offset = 0, length = chunk.length) => {
        const some = Math.min(length, 7, left)
        if (some === 0 && left <= 0) throw Object.assign(new Error('no space left on device'), { code: 'ENOSPC' })
        left -= some
        return write(chunk, offset, some)
      }) as typeof handle.write
      return handle
    }) as typeof open
    try {
      return await run()
    } finally {
      fs.promises.open = open
    }
  }

  it('writes all of it where the system takes a few bytes at a time', async () => {
    const bytes = Buffer.from('a receipt that comes in one piece and is written in many')
    const stored = await onSmallDisk(10_000, () =>
      store.storeStream(Readable.from([bytes]), { maxBytes: 1000, readBack: true }),
    )
    expect(stored.sha256).toBe(createHash('sha256').update(bytes).digest('hex'))
    expect(fs.readFileSync(store.blobPath(stored.sha256))).toEqual(bytes)
  })

  it.each([0, 1, 20, 55])('keeps nothing of what the disk has no room for (%i bytes)', async (roomBytes) => {
    const bytes = Buffer.from(`a receipt of sixty bytes and more, for ${roomBytes} bytes of room ......`)
    const storing = onSmallDisk(roomBytes, () => store.storeStream(Readable.from([bytes]), { maxBytes: 1000 }))
    const error = await storing.catch((one: unknown) => one)
    expect(isDiskFull(error)).toBe(true)
    expect(store.has(createHash('sha256').update(bytes).digest('hex'))).toBe(false)
    expect(incoming()).toEqual([])
  })

  it('keeps nothing of what is read back otherwise than it came', async () => {
    const bytes = Buffer.from('evidence that rots while it is written')
    const open = fs.promises.open
    fs.promises.open = (async (...args: Parameters<typeof open>) => {
      const handle = await open(...args)
      const write = handle.write.bind(handle)
      handle.write = (async (chunk: Buffer) => write(Buffer.alloc(chunk.length, 1))) as typeof handle.write
      return handle
    }) as typeof open
    const storing = store.storeStream(Readable.from([bytes]), { maxBytes: 1000, readBack: true })
    await expect(storing.finally(() => (fs.promises.open = open))).rejects.toThrow('bytes were written')
    expect(store.has(createHash('sha256').update(bytes).digest('hex'))).toBe(false)
    expect(incoming()).toEqual([])
  })

  it('clears what an earlier process left half-done', () => {
    fs.writeFileSync(path.join(dir, 'incoming', 'left-over'), 'x')
    store.clearIncoming()
    expect(incoming()).toEqual([])
  })

  it.each(['', '..', '../../etc/passwd', 'A'.repeat(64), 'a'.repeat(63)])('gives no path for %j', (hash) => {
    expect(() => store.blobPath(hash)).toThrow('not a SHA-256')
    expect(() => store.featurePath(hash)).toThrow('not a SHA-256')
  })
})
