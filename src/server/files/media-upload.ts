import type { Readable } from 'node:stream'
import { findMime } from '../../core/formats/media-endings'
import { files as messages } from '../../messages/server/files'
import { DomainError } from '../domain-error'
import { diskFullError, isDiskFull } from './disk-full'
import { plainFileName } from './file-name'
import { type FileStore, type StoredFile, TooLargeError } from './store'

/** Largest media file that is taken, bytes (4 GB). */
export const MAX_MEDIA_BYTES = 4 * 1024 ** 3

/** A video or sound file as it comes in. */
export interface MediaUpload {
  readonly name: string
  readonly body: Readable
  /** Null where it was not stated. */
  readonly sizeBytes: number | null
  readonly signal: AbortSignal
}

/** What is said of a file that is not taken, after its name. */
export interface MediaUploadWords {
  readonly unsupported: string
  readonly tooLarge: string
  readonly empty: string
}

/**
 * Takes in a video or sound file, streamed to disk.
 *
 * @throws {DomainError} unsupported-ending, too-large, empty-file, disk-full, upload-broke-off. Nothing is left behind but what is swept.
 */
export async function storeMediaUpload(
  store: FileStore,
  upload: MediaUpload,
  words: MediaUploadWords,
): Promise<StoredFile & { readonly fileName: string; readonly mime: string }> {
  const fileName = plainFileName(upload.name)
  const mime = findMime(fileName)
  if (!mime) throw new DomainError('unsupported-ending', `“${fileName}” ${words.unsupported}`)
  const tooLarge = (): DomainError => new DomainError('too-large', `“${fileName}” ${words.tooLarge}`)
  if (upload.sizeBytes !== null && upload.sizeBytes > MAX_MEDIA_BYTES) throw tooLarge()
  const stored = await store
    .storeStream(upload.body, { maxBytes: MAX_MEDIA_BYTES, signal: upload.signal })
    .catch((cause: unknown) => {
      if (cause instanceof TooLargeError) throw tooLarge()
      if (isDiskFull(cause)) throw diskFullError(cause)
      throw new DomainError('upload-broke-off', messages.uploadBrokeOffNothingWas, {
        cause,
      })
    })
  if (stored.sizeBytes === 0) throw new DomainError('empty-file', `“${fileName}” ${words.empty}`)
  return { ...stored, fileName, mime }
}
