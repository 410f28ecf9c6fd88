import { setTimeout } from 'node:timers/promises'
import type { Between } from '../../catalogue/between'
import { clearStage, stagedPages } from '../../catalogue/catalogue-stage'
import { withdrawUnseen } from '../../catalogue/withdraw-sounds'
import { type WrittenSounds, writeSounds } from '../../catalogue/write-sounds'
import { checkpoint, logBytes } from '../../database/checkpoint'
import { openToWrite } from '../../database/open'
import type { CatalogueTask, TaskResult } from '../tasks'
import { asTaskResult } from './task-result'

/**
 * From this size on the log is moved into the database by this thread itself: nobody else writes much, and it begins anew. Little at a time: whoever
 * reads or writes a few rows meanwhile may have to wait until what is moved is on the disk.
 */
const LOG_BYTES = 6 * 1024 * 1024
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
      if (logBytes(dataDir) > LOG_BYTES) {
        const startMs = performance.now()
        checkpoint(dataDir)
        // The disk is left to others for as long as it was busy.
        await setTimeout(performance.now() - startMs)
      }
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
