import { parseArgs } from 'node:util'
import type { BrokenLink } from '../core/ledger'
import { FileStore } from '../server/files/store'
import { verifyLedger } from '../server/ledger/ledger'
import { replayLedger } from '../server/ledger/replay'
import { dataFolder, withData } from './data-folder'
import { EXIT, UsageError } from './exit'

const REASONS: Readonly<Record<BrokenLink['reason'], string>> = {
  'number-out-of-order': 'an entry before it is missing, or it stands in another place',
  'previous-does-not-match': 'the entry before it was changed',
  'contents-do-not-match': 'its contents are not those it was written with',
}

/** `thud ledger verify`: recomputes the chain and plays it against tables and files. @returns 0 where it holds, 1 where it is broken or not there. @throws {UsageError} */
export async function ledgerCommand(args: readonly string[]): Promise<number> {
  const dataDir = parsedDataDir(args)
  return withData(dataDir, async (db) => {
    const { entries, head, broken } = await verifyLedger(db)
    if (broken) {
      console.error(`Entry ${broken.number} is broken: ${REASONS[broken.reason]}. The ${entries} before it hold.`)
      return EXIT.badInput
    }
    const mismatches = await replayLedger({ db, store: new FileStore(dataDir) })
    for (const { sentence } of mismatches) console.error(sentence)
    if (mismatches.length > 0) {
      console.error(`${entries} entries hold; ${mismatches.length} things are not as they say.`)
      return EXIT.badInput
    }
    console.log(
      `${entries} entries, all as they were written, and everything on file is as they say. The last one is ${head}.`,
    )
    return EXIT.done
  })
}

function parsedDataDir(args: readonly string[]): string {
  try {
    const { values, positionals } = parseArgs({
      args: [...args],
      allowPositionals: true,
      options: { data: { type: 'string' } },
    })
    if (positionals.length !== 1 || positionals[0] !== 'verify') throw new UsageError('Say what to do: ledger verify.')
    return dataFolder(values.data)
  } catch (error) {
    throw error instanceof UsageError ? error : new UsageError((error as Error).message)
  }
}
