import { setTimeout } from 'node:timers/promises'
import type { Between } from '../../catalogue/between'
import { clearStage, stagedPages } from '../../catalogue/catalogue-stage'
import { withdrawUnseen } from '../../catalogue/withdraw-sounds'
import { type WrittenSounds, writeSounds } from '../../catalogue/write-sounds'
import { checkpoint, logBytes } from '../../database/checkpoint'
import { openToWrite } from '../../database/open'
import type { CatalogueTask, TaskResult } from '../tasks'
import { asTaskResult } from './task-result'

/** From this size on the log is moved into the database by this thread itself: nobody else writes much, and it begins anew. */
const LOG_BYTES = 32 * 1024 * 1024
/** So long the database is free for others between two pieces, ms. */
const PAUSE_MS = 6
const TOLD_EVERY_MS = 250

/** Does one step of taking over a large catalogue. @returns What was written, or how many sounds are gone. */
export function workOnCatalogue({
  dataDir,
  sourceId,
  step,
  port,
}: CatalogueTask): Promise<TaskResult<WrittenSounds | number>> {
  return asTaskResult(async () => {
    let isStopped = false
    port.on('message', () => {
      isStopped = true
    })
    const db = openToWrite(dataDir)
    const between: Between = async () => {
      if (isStopped) throw new Error('It was stopped.')
      if (logBytes(dataDir) > LOG_BYTES) checkpoint(dataDir)
      await setTimeout(PAUSE_MS)
    }
    let toldMs = 0
    const onPiece = (so: WrittenSounds): void => {
      if (performance.now() - toldMs < TOLD_EVERY_MS) return
      toldMs = performance.now()
      port.postMessage(so)
    }
    try {
      switch (step.kind) {
        case 'write': {
          const termsIds = new Map(step.termsIds)
          const { generation } = step
          return await writeSounds(db, stagedPages(db, sourceId), { sourceId, termsIds, generation, between, onPiece })
        }
        case 'withdraw':
          return await withdrawUnseen(db, sourceId, between)
        case 'clear':
          await clearStage(db, sourceId, between)
          return 0
      }
    } finally {
      await db.destroy()
      port.close()
    }
  })
}
