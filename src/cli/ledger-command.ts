import { parseArgs } from 'node:util'
import { KeptHead } from '../contract'
import { commands as messages } from '../messages/server/commands'
import { FileStore } from '../server/files/store'
import { compareHead, verifyEverything } from '../server/ledger/verify'
import { dataFolder, withData } from './data-folder'
import { EXIT, UsageError } from './exit'

/**
 * `thud ledger verify`: recomputes the chain and plays it against tables and files; with `--head NUMBER:HASH`, also whether an entry that was
 * noted elsewhere is still there.
 *
 * @returns 0 where it holds, 1 where it is broken or not there. @throws {UsageError}
 */
export async function ledgerCommand(args: readonly string[]): Promise<number> {
  const { dataDir, head } = parsed(args)
  return withData(dataDir, async (db) => {
    const report = await verifyEverything({ db, store: new FileStore(dataDir) })
    const kept = head && (await compareHead(db, head))
    for (const sentence of report.broken === null ? report.mismatches : [report.broken]) console.error(sentence)
    if (kept && !kept.holds) console.error(kept.sentence)
    if (report.broken !== null || (kept && !kept.holds)) return EXIT.badInput
    if (report.mismatchCount > 0) {
      console.error(messages.entriesHoldThingsAreNot(report.entries, report.mismatchCount))
      return EXIT.badInput
    }
    if (kept) console.log(kept.sentence)
    console.log(messages.entriesAllAsTheyWere(report.entries, report.head.hash))
    return EXIT.done
  })
}

function parsed(args: readonly string[]): { dataDir: string; head: KeptHead | null } {
  try {
    const { values, positionals } = parseArgs({
      args: [...args],
      allowPositionals: true,
      options: { data: { type: 'string' }, head: { type: 'string' } },
    })
    if (positionals.length !== 1 || positionals[0] !== 'verify') throw new UsageError(messages.sayWhatDoLedgerVerify)
    return { dataDir: dataFolder(values.data), head: values.head === undefined ? null : keptHead(values.head) }
  } catch (error) {
    throw error instanceof UsageError ? error : new UsageError((error as Error).message)
  }
}

function keptHead(text: string): KeptHead {
  const [number, hash] = text.trim().split(/[:\s]+/)
  const head = KeptHead.safeParse({ number: Number(number), hash })
  if (!head.success) throw new UsageError('--head takes the number and the hash of an entry, such as 532:1a2b….')
  return head.data
}
