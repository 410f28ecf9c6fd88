import { createHash } from 'node:crypto'
import {
  canonicalJson,
  chained,
  type Json,
  type LedgerEntry,
  type LedgerKind,
  NO_HASH,
  type Verification,
  verifiedChain,
} from '../../core/ledger'
import { type Db, nowIso } from '../database/db'

/** Entries that are read at once when the chain is gone through. */
const PAGE = 500

/** SHA-256 of a text, hexadecimal. */
export function sha256Of(text: string): string {
  return createHash('sha256').update(text, 'utf8').digest('hex')
}

/**
 * Adds an event to the ledger, inside the transaction of what it speaks of: both are written, or neither.
 *
 * @param trx A transaction that has written already, so that no other process can add an entry in between.
 * @throws {LedgerError} not-json.
 */
export async function appendToLedger(
  trx: Db,
  kind: LedgerKind,
  body: Readonly<Record<string, Json>>,
  at: string = nowIso(),
): Promise<LedgerEntry> {
  const entry = chained((await findLastEntry(trx)) ?? null, { at, kind, body }, sha256Of)
  await trx
    .insertInto('ledger')
    .values({
      number: entry.number,
      at: entry.at,
      kind: entry.kind,
      body_json: canonicalJson(entry.body),
      previous: entry.previous,
      hash: entry.hash,
    })
    .execute()
  return entry
}

/** SHA-256 over how terms are read: their clauses, and how long they hold. */
export function readingSha256(clauses: unknown, duration: string): string {
  return sha256Of(canonicalJson({ clauses: clauses as Json, duration }))
}

/** Goes through the whole chain and recomputes it. */
export async function verifyLedger(db: Db): Promise<Verification> {
  return verifiedChain(await readLedger(db), sha256Of)
}

/** The last entry of the ledger: whoever keeps it elsewhere can tell later that nothing before it was changed. */
export interface LedgerHead {
  /** 0 while there is none. */
  readonly number: number
  readonly hash: string
}

export async function ledgerHead(db: Db): Promise<LedgerHead> {
  return (await findLastEntry(db)) ?? { number: 0, hash: NO_HASH }
}

function findLastEntry(db: Db): Promise<LedgerHead | undefined> {
  return db.selectFrom('ledger').select(['number', 'hash']).orderBy('number', 'desc').limit(1).executeTakeFirst()
}

/** Every entry, in order. */
export async function readLedger(db: Db): Promise<LedgerEntry[]> {
  const entries: LedgerEntry[] = []
  for (let after = 0; ; ) {
    const page = await listLedgerEntries(db, after)
    entries.push(...page)
    const last = page[page.length - 1]
    if (!last || page.length < PAGE) break
    after = last.number
  }
  return entries
}

/** Up to five hundred entries after a number, in order. Contents that are no JSON any more are handed on as text: they do not verify. */
export async function listLedgerEntries(db: Db, after: number): Promise<LedgerEntry[]> {
  const rows = await db
    .selectFrom('ledger')
    .selectAll()
    .where('number', '>', after)
    .orderBy('number')
    .limit(PAGE)
    .execute()
  return rows.map(({ body_json, kind, ...row }) => ({ ...row, kind: kind as LedgerKind, body: parsed(body_json) }))
}

function parsed(text: string): Json {
  try {
    return JSON.parse(text) as Json
  } catch {
    return text
  }
}
