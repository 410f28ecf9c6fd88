import { createHash, randomUUID } from 'node:crypto'
import fs from 'node:fs'
import path from 'node:path'
import type { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { files as messages } from '../../messages/server/files'
import { ShortWriteError } from './disk-full'
import { hashFile } from './hash-file'

/** A file that was taken in. */
export interface StoredFile {
  readonly sha256: string
  readonly sizeBytes: number
}

/** More bytes came than are allowed. */
export class TooLargeError extends Error {
  override readonly name = 'TooLargeError'
  constructor(readonly maxBytes: number) {
    super(messages.moreThanBytes(maxBytes))
  }
}

const SHA256 = /^[0-9a-f]{64}$/

/**
 * Files of a data folder, found by the SHA-256 of their content.
 *
 * Taking in is atomic: bytes go to `incoming/`, are synced, and renamed into place only when they are complete.
 */
export class FileStore {
  constructor(readonly dataDir: string) {
    for (const folder of ['incoming', 'blobs', 'features'])
      fs.mkdirSync(path.join(dataDir, folder), { recursive: true })
  }

  /** Path of a stored file. @throws Error when `sha256` is not a hash: nothing from outside reaches the file system. */
  blobPath(sha256: string): string {
    return path.join(this.dataDir, 'blobs', this.checked(sha256).slice(0, 2), sha256)
  }

  /** Path of the prepared sound of a stored file. */
  featurePath(sha256: string): string {
    return path.join(this.dataDir, 'features', `${this.checked(sha256)}.features`)
  }

  has(sha256: string): boolean {
    return fs.existsSync(this.blobPath(sha256))
  }

  /**
   * Takes in a stream. What is written is compared in size, and with `readBack` read again and compared in content.
   *
   * @throws {TooLargeError} when more than `maxBytes` come; any error of the stream. Nothing is left behind.
   */
  async storeStream(
    source: Readable,
    { maxBytes, signal, readBack = false }: { maxBytes: number; signal?: AbortSignal; readBack?: boolean },
  ): Promise<StoredFile> {
    const temporary = path.join(this.dataDir, 'incoming', randomUUID())
    try {
      const { sha256, sizeBytes } = await this.writeTemporary(temporary, source, {
        maxBytes,
        ...(signal ? { signal } : {}),
      })
      if (readBack && (await hashFile(temporary)) !== sha256) throw new ShortWriteError(0, sizeBytes)
      await fs.promises.mkdir(path.dirname(this.blobPath(sha256)), { recursive: true })
      await fs.promises.rename(temporary, this.blobPath(sha256))
      return { sha256, sizeBytes }
    } catch (error) {
      await fs.promises.rm(temporary, { force: true })
      throw error
    }
  }

  /**
   * Writes a stream to a path that {@link temporaryPath} gave, for a file that is only looked at.
   *
   * @throws {TooLargeError} when more than `maxBytes` come; any error of the stream. What was written is left behind.
   */
  async writeTemporary(
    temporary: string,
    source: Readable,
    { maxBytes, signal }: { maxBytes: number; signal?: AbortSignal },
  ): Promise<StoredFile> {
    const hash = createHash('sha256')
    let sizeBytes = 0
    const file = await fs.promises.open(temporary, 'wx')
    try {
      await pipeline(
        source,
        async function* (chunks: AsyncIterable<Buffer>) {
          for await (const chunk of chunks) {
            sizeBytes += chunk.length
            if (sizeBytes > maxBytes) throw new TooLargeError(maxBytes)
            hash.update(chunk)
            yield chunk
          }
        },
        async (chunks: AsyncIterable<Buffer>) => {
          for await (const chunk of chunks) await writeWhole(file, chunk)
        },
        ...(signal ? [{ signal }] : []),
      )
      await file.sync()
      const { size } = await file.stat()
      if (size !== sizeBytes) throw new ShortWriteError(size, sizeBytes)
    } finally {
      await file.close()
    }
    return { sha256: hash.digest('hex'), sizeBytes }
  }

  /** Removes a file that was only looked at. */
  async removeTemporary(temporary: string): Promise<void> {
    await fs.promises.rm(temporary, { force: true })
  }

  /** A path for a file that is being made; it is cleared away at the next start if it is not adopted. */
  temporaryPath(ending: string): string {
    return path.join(this.dataDir, 'incoming', `${randomUUID()}.${ending.replace(/[^a-z0-9]/gi, '').slice(0, 8)}`)
  }

  /** Takes over a file that was made at a temporary path: it is hashed, synced and renamed into place. */
  async commitTemporaryFile(temporary: string): Promise<StoredFile> {
    const hash = createHash('sha256')
    let sizeBytes = 0
    const file = await fs.promises.open(temporary, 'r+')
    try {
      for await (const chunk of file.createReadStream({ autoClose: false }) as AsyncIterable<Buffer>) {
        hash.update(chunk)
        sizeBytes += chunk.length
      }
      await file.sync()
    } finally {
      await file.close()
    }
    const sha256 = hash.digest('hex')
    await fs.promises.mkdir(path.dirname(this.blobPath(sha256)), { recursive: true })
    await fs.promises.rename(temporary, this.blobPath(sha256))
    return { sha256, sizeBytes }
  }

  /** Removes what broken-off uploads and downloads left. Call once at start, before anything is taken in. */
  clearIncoming(): void {
    fs.rmSync(path.join(this.dataDir, 'incoming'), { recursive: true, force: true })
    fs.mkdirSync(path.join(this.dataDir, 'incoming'), { recursive: true })
  }

  private checked(sha256: string): string {
    if (!SHA256.test(sha256)) throw new Error('not a SHA-256')
    return sha256
  }
}

/** Writes all of a chunk: the system may take less of it than it was given. @throws {ShortWriteError} when it takes nothing more. */
async function writeWhole(file: fs.promises.FileHandle, chunk: Buffer): Promise<void> {
  for (let done = 0; done < chunk.length; ) {
    const { bytesWritten } = await file.write(chunk, done, chunk.length - done)
    if (bytesWritten === 0) throw new ShortWriteError(done, chunk.length)
    done += bytesWritten
  }
}
