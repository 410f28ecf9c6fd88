import type { TimeRange } from '../../core/time-range'
import { copies as messages } from '../../messages/server/copies'
import type { Services } from '../context'
import { notFound } from '../domain-error'
import { requireRange } from '../media/range-limits'
import type { CutTask } from '../workers/tasks'
import { runWatchedTask } from '../workers/watched-task'

/** A part of a copy as WAV of 24 bits: every sample is the one of the copy. @throws {DomainError} not-found, bad-range. */
export async function copyPart(
  { db, store, interactivePool }: Pick<Services, 'db' | 'store' | 'interactivePool'>,
  sha256: string,
  range: TimeRange,
  signal: AbortSignal,
): Promise<{ path: string; fileName: string }> {
  const copy = await db.selectFrom('copies').select('file_name').where('sha256', '=', sha256).executeTakeFirst()
  if (!copy || !store.has(sha256)) throw notFound(messages.thisCopy)
  requireRange(range)
  const { startS, endS } = range
  const path = store.temporaryPath('wav')
  const task: CutTask = { path: store.blobPath(sha256), into: path, range }
  await runWatchedTask<boolean>(interactivePool, 'cutTrack', task, { signal })
  const stem = copy.file_name.replace(/\.[^.]*$/, '')
  const part = ` ${startS.toFixed(2)}-${endS.toFixed(2)} s`
  return { path, fileName: `${stem.slice(0, MAX_NAME - part.length - 4).trim()}${part}.wav` }
}

const MAX_NAME = 80
