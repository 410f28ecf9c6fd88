import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { setTimeout } from 'node:timers/promises'
import lockfile from 'proper-lockfile'
import { z } from 'zod'
import { database as messages } from '../../messages/server/database'
import { DataFolderError } from './data-folder-error'

/** A lock that was not renewed for this long is nobody's any more, ms. */
const STALE_MS = 20_000
const RENEW_MS = 5_000
const OWNER = 'in-use.json'

const Owner = z.object({ pid: z.number().int(), host: z.string() })

/** Where the lock of a data folder is: a folder whose time is renewed while the lock is held, so a copy of it locks nothing. */
export function lockPath(dataDir: string): string {
  return path.join(dataDir, 'in-use.lock')
}

/**
 * Takes the lock of a data folder: two processes on one would do the same work twice.
 *
 * @returns Gives it back. @throws {DataFolderError} in-use.
 */
export async function lockFolder(dataDir: string): Promise<() => Promise<void>> {
  fs.mkdirSync(dataDir, { recursive: true })
  const release = await takeLock(dataDir).catch(async (error: unknown) => {
    if (!isLocked(error)) throw error
    if (!(await isOwnerGoneSoon(dataDir))) throw inUse(dataDir)
    // Whoever held it was killed.
    fs.rmSync(lockPath(dataDir), { recursive: true, force: true })
    return takeLock(dataDir).catch((again: unknown) => {
      throw isLocked(again) ? inUse(dataDir) : again
    })
  })
  fs.writeFileSync(path.join(dataDir, OWNER), JSON.stringify({ pid: process.pid, host: os.hostname() }))
  return release
}

async function takeLock(dataDir: string): Promise<() => Promise<void>> {
  let isGivenBack = false
  const release = await lockfile.lock(dataDir, {
    lockfilePath: lockPath(dataDir),
    realpath: false,
    stale: STALE_MS,
    update: RENEW_MS,
    onCompromised: (error) => {
      // A renewal that was under way when the lock was given back finds it gone: that is as it should be.
      if (isGivenBack) return
      // Another process may write here now: nothing more is written from this one.
      console.error(`The lock of ${dataDir} was lost (${error.message}). Good Thud ends here; start it again.`)
      process.exit(1)
    },
  })
  return () => {
    isGivenBack = true
    return release()
  }
}

function isLocked(error: unknown): boolean {
  return error instanceof Error && 'code' in error && error.code === 'ELOCKED'
}

function readOwner(dataDir: string): z.infer<typeof Owner> | null {
  try {
    return Owner.parse(JSON.parse(fs.readFileSync(path.join(dataDir, OWNER), 'utf8')))
  } catch {
    return null
  }
}

/** A process that was killed may take a moment to be gone, ms. */
const DYING_MS = 1500

async function isOwnerGoneSoon(dataDir: string): Promise<boolean> {
  const endMs = performance.now() + DYING_MS
  for (;;) {
    if (isOwnerGone(dataDir)) return true
    if (performance.now() > endMs) return false
    await setTimeout(100)
  }
}

/** Whether the process that took the lock is known to be gone. */
function isOwnerGone(dataDir: string): boolean {
  const owner = readOwner(dataDir)
  if (owner === null || owner.host !== os.hostname()) return false
  try {
    process.kill(owner.pid, 0)
    return isDead(owner.pid)
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'ESRCH'
  }
}

/** Whether a process has ended and only its entry is left, where the system tells. Source: proc(5), the field after the name. */
function isDead(pid: number): boolean {
  try {
    return /\) [ZX] /.test(fs.readFileSync(`/proc/${pid}/stat`, 'utf8'))
  } catch {
    return false
  }
}

function inUse(dataDir: string): DataFolderError {
  const owner = readOwner(dataDir)
  const whose = owner ? ` (process ${owner.pid}${owner.host === os.hostname() ? '' : ` on ${owner.host}`})` : ''
  return new DataFolderError('in-use', messages.goodThudAlreadyRunsOn(dataDir, whose))
}
