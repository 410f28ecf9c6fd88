import canonicalize from 'canonicalize'

/** What an entry of the ledger speaks of. */
export const LEDGER_KINDS = [
  'terms-seen',
  'terms-read-again',
  'plan-period',
  'acquired',
  'paid',
  'receipt',
  'declared',
  'corrected',
  'settled',
  'checked',
  'answered',
  'answer-undone',
  'cleared-away',
] as const
export type LedgerKind = (typeof LEDGER_KINDS)[number]

/** A value of JSON. */
export type Json = null | boolean | number | string | readonly Json[] | { readonly [key: string]: Json }

/** What happened, before it stands in the chain. */
export interface LedgerEvent {
  /** UTC, ISO 8601. */
  readonly at: string
  readonly kind: LedgerKind
  readonly body: Json
}

/** An event in the chain: it names the hash of the entry before it, and its own. */
export interface LedgerEntry extends LedgerEvent {
  /** 1 for the first. */
  readonly number: number
  /** Hash of the entry before, hexadecimal; 64 zeros for the first. */
  readonly previous: string
  /** SHA-256, hexadecimal, over the canonical JSON of everything else. */
  readonly hash: string
}

/** SHA-256 of a text in UTF-8, hexadecimal; the core has no cryptography of its own. */
export type HashOf = (text: string) => string

/** What the first entry names in place of a hash. */
export const NO_HASH = '0'.repeat(64)

/** A value that has no form in JSON: no number, not finite, undefined. */
export class LedgerError extends Error {
  override readonly name = 'LedgerError'
  readonly code = 'not-json'
}

/** The one text of a JSON value: keys sorted, no white space. Source: RFC 8785. @throws {LedgerError} not-json. */
export function canonicalJson(value: Json): string {
  try {
    const text = canonicalize(value)
    if (text !== undefined) return text
  } catch (cause) {
    throw new LedgerError('A value that is not JSON cannot be written into the ledger.', { cause })
  }
  throw new LedgerError('Nothing cannot be written into the ledger.')
}

/** The entry of an event after another one. @param last Null for the first. @throws {LedgerError} not-json. */
export function chained(
  last: Pick<LedgerEntry, 'number' | 'hash'> | null,
  { at, kind, body }: LedgerEvent,
  hashOf: HashOf,
): LedgerEntry {
  const open = { number: (last?.number ?? 0) + 1, at, kind, body, previous: last?.hash ?? NO_HASH }
  return { ...open, hash: hashOf(canonicalJson(open)) }
}

/** Where a chain breaks first. */
export interface BrokenLink {
  readonly number: number
  readonly reason: 'number-out-of-order' | 'previous-does-not-match' | 'contents-do-not-match'
}

/** What a look through a chain gives. */
export interface Verification {
  readonly entries: number
  /** Hash of the last good entry: whoever noted it down earlier can tell that nothing before it was changed or cut off. */
  readonly head: string
  readonly broken: BrokenLink | null
}

/** Recomputes a chain from its first entry, up to the first that is broken. @param entries In the order of their numbers. */
export function verifiedChain(entries: Iterable<LedgerEntry>, hashOf: HashOf): Verification {
  let number = 0
  let head = NO_HASH
  for (const entry of entries) {
    const reason = breakOf(entry, { number, hash: head }, hashOf)
    if (reason) return { entries: number, head, broken: { number: number + 1, reason } }
    number = entry.number
    head = entry.hash
  }
  return { entries: number, head, broken: null }
}

function breakOf(
  { hash, ...open }: LedgerEntry,
  last: { readonly number: number; readonly hash: string },
  hashOf: HashOf,
): BrokenLink['reason'] | null {
  if (open.number !== last.number + 1) return 'number-out-of-order'
  if (open.previous !== last.hash) return 'previous-does-not-match'
  const { number, at, kind, body, previous } = open
  return hashOf(canonicalJson({ number, at, kind, body, previous })) === hash ? null : 'contents-do-not-match'
}
