import path from 'node:path'
import type { TableFacts } from '../../core/formats/sound-table'
import { folders as messages } from '../../messages/server/folders'
import type { Services } from '../context'
import { runTask } from '../workers/pool'
import type { ReadTableTask } from '../workers/tasks'
import type { FoundFile } from './walk'

/** A table that takes longer to read is none of sounds, ms. */
const READ_MAX_MS = 20_000

/** What the tables in a folder say of its sounds, and which of them could not be read. */
export interface SoundTables {
  readonly facts: ReadonlyMap<string, TableFacts>
  readonly unreadable: readonly string[]
}

/** Reads tables that lie beside sounds in a thread that is ended when it takes too long. The first that speaks of a file counts. */
export async function readSoundTables(
  { interactivePool }: Pick<Services, 'interactivePool'>,
  folder: string,
  tables: readonly FoundFile[],
  signal: AbortSignal,
): Promise<SoundTables> {
  const facts = new Map<string, TableFacts>()
  const unreadable: string[] = []
  for (const table of tables) {
    const task: ReadTableTask = { path: path.join(folder, table.path) }
    const within = AbortSignal.any([signal, AbortSignal.timeout(READ_MAX_MS)])
    try {
      const read = await runTask<ReadonlyMap<string, TableFacts>>(interactivePool, 'readSoundTable', task, {
        signal: within,
      })
      for (const [name, one] of read) if (!facts.has(name)) facts.set(name, one)
    } catch {
      signal.throwIfAborted()
      unreadable.push(messages.couldNotBeReadAs(table.path))
    }
  }
  return { facts, unreadable }
}
