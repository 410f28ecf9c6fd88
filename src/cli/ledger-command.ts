import fs from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import type { BrokenLink } from '../core/ledger'
import { openDatabase } from '../server/database/open'
import { verifiedLedger } from '../server/ledger/ledger'
import { EXIT, UsageError } from './exit'

const REASONS: Readonly<Record<BrokenLink['reason'], string>> = {
  'number-out-of-order': 'an entry before it is missing, or it stands in another place',
  'previous-does-not-match': 'the entry before it was changed',
  'contents-do-not-match': 'its contents are not those it was written with',
}

/** `thud ledger verify`: recomputes the chain. @returns 0 where it holds, 1 where it is broken or not there. @throws {UsageError} */
export async function ledgerCommand(args: readonly string[]): Promise<number> {
  const dataDir = parsedDataDir(args)
  if (!fs.existsSync(path.join(dataDir, 'good-thud.sqlite'))) {
    console.error(`${dataDir}: there is no Good Thud data in this folder. Name it with --data FOLDER.`)
    return EXIT.badInput
  }
  const db = await openDatabase(dataDir)
  try {
    const { entries, head, broken } = await verifiedLedger(db)
    if (broken) {
      console.error(`Entry ${broken.number} is broken: ${REASONS[broken.reason]}. The ${entries} before it hold.`)
      return EXIT.badInput
    }
    console.log(`${entries} entries, all as they were written. The last one is ${head}.`)
    return EXIT.done
  } finally {
    await db.destroy()
  }
}

function parsedDataDir(args: readonly string[]): string {
  const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..', '..')
  try {
    const { values, positionals } = parseArgs({
      args: [...args],
      allowPositionals: true,
      options: { data: { type: 'string' } },
    })
    if (positionals.length !== 1 || positionals[0] !== 'verify') throw new UsageError('Say what to do: ledger verify.')
    return path.resolve(values.data ?? process.env.THUD_DATA ?? path.join(root, 'data', 'own'))
  } catch (error) {
    throw error instanceof UsageError ? error : new UsageError((error as Error).message)
  }
}
