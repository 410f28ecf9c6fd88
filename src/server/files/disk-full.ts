import fs from 'node:fs'
import { files as messages } from '../../messages/server/files'
import { DomainError } from '../domain-error'

/** Codes by which the system and SQLite say that there is no room. */
const FULL_CODES: ReadonlySet<unknown> = new Set([
  'ENOSPC',
  'EDQUOT',
  'EFBIG',
  'SQLITE_FULL',
  'SQLITE_IOERR_WRITE',
  'SQLITE_IOERR_SHMSIZE',
])

/** Less free room than this, and no long work is begun, bytes. */
const ROOM_NEEDED = 200 * 1024 * 1024
/** Causes that are looked at behind an error. */
const CAUSES_MAX = 5

/** Whether something failed because the disk is full, however deep the reason lies. */
export function isDiskFull(error: unknown): boolean {
  let one = error
  for (let depth = 0; depth < CAUSES_MAX && one instanceof Error; depth++) {
    if ('code' in one && FULL_CODES.has(one.code)) return true
    one = one.cause
  }
  return false
}

/** What a full disk is told as. @param cause What failed. */
export function diskFullError(cause: unknown): DomainError {
  return new DomainError('disk-full', DISK_FULL, { cause })
}

export const DISK_FULL = messages.diskFullMakeRoomAnd

/** A write that ended before all was written. */
export class ShortWriteError extends Error {
  override readonly name = 'ShortWriteError'
  readonly code = 'ENOSPC'
  constructor(writtenBytes: number, wantedBytes: number) {
    super(messages.ofBytesWereWritten(writtenBytes, wantedBytes))
  }
}

/** Room that is free for the data, bytes. */
export async function freeRoom(dataDir: string): Promise<number> {
  const { bavail, bsize } = await fs.promises.statfs(dataDir)
  return bavail * bsize
}

/** @throws {DomainError} disk-full, when there is too little room to begin something long. */
export async function requireRoom(dataDir: string): Promise<void> {
  const freeBytes = await freeRoom(dataDir)
  if (freeBytes >= ROOM_NEEDED) return
  const mb = (bytes: number): number => Math.floor(bytes / 1024 ** 2)
  throw new DomainError('disk-full', messages.onlyMbAreFreeOn(mb(freeBytes), mb(ROOM_NEEDED)))
}
