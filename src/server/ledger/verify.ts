import { type KeptHead, type KeptHeadAnswer, type LedgerPage, LedgerReport } from '../../contract'
import { type BrokenLink, entryInWords, type Json, NO_HASH } from '../../core/ledger'
import { ledger as messages } from '../../messages/server/ledger'
import { type Db, nowIso } from '../database/db'
import type { FileStore } from '../files/store'
import { findSetting, setSetting } from '../settings'
import { ledgerHead, verifyLedger } from './ledger'
import { replayLedger } from './replay'

const REASONS: Readonly<Record<BrokenLink['reason'], string>> = {
  'number-out-of-order': messages.entryBeforeMissingOrStands,
  'previous-does-not-match': messages.entryBeforeWasChanged,
  'contents-do-not-match': messages.contentsAreNotThoseWas,
}
const MISMATCHES_TOLD = 1000

/** Recomputes the chain, and plays it against the tables and the stored files. */
export async function verifyEverything(options: {
  readonly db: Db
  readonly store: Pick<FileStore, 'blobPath'>
  readonly signal?: AbortSignal
  readonly report?: (fraction: number) => void
}): Promise<LedgerReport> {
  const { entries, head, broken } = await verifyLedger(options.db)
  const mismatches = broken ? [] : await replayLedger(options)
  return {
    at: nowIso(),
    entries,
    head: { number: entries, hash: head },
    broken: broken ? messages.entryBrokenBeforeHold(broken.number, REASONS[broken.reason], entries) : null,
    mismatches: mismatches.slice(0, MISMATCHES_TOLD).map(({ sentence }) => sentence),
    mismatchCount: mismatches.length,
  }
}

/** Verifies and keeps the report for the page. @returns It in one sentence. */
export async function verifyAndKeep(options: Parameters<typeof verifyEverything>[0]): Promise<string> {
  const report = await verifyEverything(options)
  await setSetting(options.db, 'ledger-report', JSON.stringify(report))
  return (
    report.broken ??
    (report.mismatchCount === 0 ? messages.theLedgerHolds : messages.thingsAreNotAsLedger(report.mismatchCount))
  )
}

/** The newest entries before a number, in words, with the head and the last report. */
export async function loadLedgerPage(
  db: Db,
  { before = Number.MAX_SAFE_INTEGER, limit }: { readonly before?: number; readonly limit: number },
): Promise<LedgerPage> {
  const rows = await db
    .selectFrom('ledger')
    .selectAll()
    .where('number', '<', before)
    .orderBy('number', 'desc')
    .limit(limit)
    .execute()
  const kept = await findSetting(db, 'ledger-report')
  const sources = await db.selectFrom('sources').select(['id', 'name']).execute()
  const names = new Map(sources.map(({ id, name }) => [id, name]))
  return {
    head: await ledgerHead(db),
    entries: rows.map(({ number, at, kind, hash, body_json }) => {
      const known = kind as LedgerPage['entries'][number]['kind']
      const body = parsedOrText(body_json)
      const { sentence, lines } = entryInWords({ kind: known, body: withSourceName(body, names) })
      return { number, at, kind: known, hash, sentence, lines: [...lines] }
    }),
    report: kept === null ? null : LedgerReport.parse(JSON.parse(kept)),
  }
}

/** Entries name a source by its id; people know it by its name. */
function withSourceName(body: Json, names: ReadonlyMap<Json | undefined, string>): Json {
  if (typeof body !== 'object' || body === null || Array.isArray(body)) return body
  const { source } = body as Readonly<Record<string, Json>>
  return { ...body, ...(names.has(source) ? { source: names.get(source) ?? null } : {}) }
}

function parsedOrText(text: string): Json {
  try {
    return JSON.parse(text)
  } catch {
    return text
  }
}

/** Whether an entry that was noted elsewhere is still the one at its place. */
export async function compareHead(db: Db, { number, hash }: KeptHead): Promise<KeptHeadAnswer> {
  if (number === 0 && hash === NO_HASH) return { holds: true, sentence: messages.thatHeadEmptyLedgerEvery }
  const row = await db.selectFrom('ledger').select('hash').where('number', '=', number).executeTakeFirst()
  if (!row) return { holds: false, sentence: messages.thereNoEntryAnyMore(number) }
  return row.hash === hash
    ? {
        holds: true,
        sentence: messages.entryOneThatYouNoted(number),
      }
    : { holds: false, sentence: messages.entryNotOneThatYou(number) }
}
