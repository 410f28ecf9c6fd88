import { files as messages } from '../../messages/server/files'
import { DomainError } from '../domain-error'
import { TooLargeError } from './store'

/** Largest sound or video that the creator brings, bytes (4 GB). */
const MAX_BYTES = 4 * 1024 ** 3

/** Takes in a file of the creator's within the limit. @throws {DomainError} too-large; whatever `take` throws. */
export async function takeWithinLimit<T>(take: (maxBytes: number) => Promise<T>): Promise<T> {
  try {
    return await take(MAX_BYTES)
  } catch (error) {
    if (error instanceof TooLargeError) throw new DomainError('too-large', messages.fileHasMoreThan4)
    throw error
  }
}
