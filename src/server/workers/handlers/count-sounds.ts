import path from 'node:path'
import { COUNT_SOUNDS, type SourceCounts } from '../../database/count-sounds'
import { DATABASE_NAME } from '../../database/open'
import { Sqlite } from '../../database/sqlite'
import type { CountSoundsTask, TaskResult } from '../tasks'
import { asTaskResult } from './task-result'

/** Counts the sounds of each source: of a large catalogue that takes longer than a request may wait in the way of others. */
export function countSounds({ dataDir }: CountSoundsTask): Promise<TaskResult<SourceCounts[]>> {
  return asTaskResult(async () => {
    const database = new Sqlite(path.join(dataDir, DATABASE_NAME), { readonly: true })
    try {
      return database.prepare(COUNT_SOUNDS).all() as SourceCounts[]
    } finally {
      database.close()
    }
  })
}
