import { parentPort, workerData } from 'node:worker_threads'
import { makeOwnFolder } from './own-folder'

/** Making sounds takes seconds, in which the application would answer nobody: it is done in a thread of its own. */
parentPort?.postMessage(makeOwnFolder(workerData as string))
