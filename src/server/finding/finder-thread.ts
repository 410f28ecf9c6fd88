import { parentPort, workerData } from 'node:worker_threads'
import { openToRead } from '../database/open'
import type { FinderAnswer, FinderCall, FinderStart } from '../ports/finder-messages'
import { IncrementalSearchIndex } from './incremental-search-index'

/** The thread that holds the index of all sounds and answers one question after the other. */
function serve({ dataDir, vocabulary }: FinderStart): void {
  const finder = new IncrementalSearchIndex(openToRead(dataDir), vocabulary)
  let last: Promise<unknown> = Promise.resolve()
  parentPort?.on('message', (call: FinderCall) => {
    last = last.then(async () => {
      parentPort?.postMessage(await answerMessage(call, finder))
    })
  })
}

async function answerMessage(call: FinderCall, finder: IncrementalSearchIndex): Promise<FinderAnswer> {
  try {
    const value = await finder.answer(call)
    return { number: call.number, ok: true, value, isOutdated: finder.isOutdated }
  } catch (error) {
    const code = error instanceof Error && 'code' in error ? String(error.code) : 'failed'
    return { number: call.number, ok: false, code, message: error instanceof Error ? error.message : String(error) }
  }
}

serve(workerData as FinderStart)
