import { notFound, ProblemError } from '../problem-error'
import type { Services } from '../services'
import { runTask } from '../workers/pool'
import type { CutTask } from '../workers/tasks'

/** A part of a copy as WAV of 24 bits: every sample is the one of the copy. @throws {ProblemError} not-found, bad-span. */
export async function copyPart(
  { db, store, pool }: Pick<Services, 'db' | 'store' | 'pool'>,
  sha256: string,
  [fromS, toS]: readonly [number, number],
  signal: AbortSignal,
): Promise<{ path: string; fileName: string }> {
  const copy = await db.selectFrom('copies').select('file_name').where('sha256', '=', sha256).executeTakeFirst()
  if (!copy || !store.has(sha256)) throw notFound('This copy')
  if (!(fromS >= 0 && toS > fromS && toS - fromS <= MAX_PART_S))
    throw new ProblemError(400, 'bad-span', 'Mark a part of up to ten minutes that ends after it starts.')
  const path = store.temporaryPath('wav')
  await runTask<boolean>(
    pool,
    'cutTrack',
    { path: store.blobPath(sha256), into: path, span: [fromS, toS] } satisfies CutTask,
    {
      signal,
    },
  )
  const stem = copy.file_name.replace(/\.[^.]*$/, '')
  const part = ` ${fromS.toFixed(2)}-${toS.toFixed(2)} s`
  return { path, fileName: `${stem.slice(0, MAX_NAME - part.length - 4).trim()}${part}.wav` }
}

const MAX_PART_S = 600
const MAX_NAME = 80
