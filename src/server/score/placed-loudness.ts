import type { LoudnessAnswer, LoudnessRequest } from '../../contract'
import type { Services } from '../context'
import type { LoudnessTask } from '../workers/tasks'
import { runWatchedTask } from '../workers/watched-task'
import { requirePlacedFile } from './placed-audio'

/**
 * How loud a placed sound is over the part that is heard, at a level of 0 dB.
 *
 * @throws {DomainError} not-found where its audio is not here; {MediaError} where it cannot be decoded.
 */
export async function measurePlaced(
  { db, store, interactivePool }: Pick<Services, 'db' | 'store' | 'interactivePool'>,
  { placement }: LoudnessRequest,
): Promise<LoudnessAnswer> {
  const path = await requirePlacedFile({ db, store }, placement.audio)
  const task: Omit<LoudnessTask, 'pulse'> = { path, placement }
  return { lufs: await runWatchedTask<number | null>(interactivePool, 'measurePlaced', task) }
}
