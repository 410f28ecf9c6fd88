import { setImmediate } from 'node:timers/promises'
import { MessageChannel } from 'node:worker_threads'
import type { Between } from '../catalogue/between'
import type { WrittenSounds } from '../catalogue/write-sounds'
import type { Services } from '../context'
import type { JobContext } from '../jobs/jobs'
import { runTask } from '../workers/pool'
import type { CatalogueStep, CatalogueTask } from '../workers/tasks'

/** What taking over a catalogue works with. */
export type CatalogueServices = Pick<Services, 'db' | 'checkpoints' | 'countSounds' | 'pool' | 'store'>

/** For work in this thread: everybody else has a turn between two pieces. */
export function betweenPieces(
  { checkpoints }: Pick<Services, 'checkpoints'>,
  { signal }: Pick<JobContext, 'signal'>,
): Between {
  return async () => {
    signal.throwIfAborted()
    await checkpoints.catchUp()
    await setImmediate()
  }
}

/**
 * Does one step of taking over a large catalogue in a thread that writes by itself. It is told when it is to stop, and ends after the piece that it is
 * at: a thread that is ended from outside could leave the database locked.
 *
 * @throws AbortError when it was stopped.
 */
export async function workInThread<T>(
  { pool, store: { dataDir } }: Pick<Services, 'pool' | 'store'>,
  sourceId: string,
  step: CatalogueStep,
  { signal, onPiece }: { readonly signal: AbortSignal; readonly onPiece?: (so: WrittenSounds) => void },
): Promise<T> {
  signal.throwIfAborted()
  const { port1, port2 } = new MessageChannel()
  const stop = (): void => port1.postMessage('stop')
  port1.on('message', (so: WrittenSounds) => onPiece?.(so))
  signal.addEventListener('abort', stop)
  try {
    const task: CatalogueTask = { dataDir, sourceId, step, port: port2 }
    return await runTask<T>(pool, 'workOnCatalogue', task, { transferList: [port2] })
  } catch (error) {
    signal.throwIfAborted()
    throw error
  } finally {
    signal.removeEventListener('abort', stop)
    port1.close()
  }
}
