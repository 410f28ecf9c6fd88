export {
  type BrokenLink,
  canonicalJson,
  chained,
  type HashOf,
  type Json,
  LEDGER_KINDS,
  type LedgerEntry,
  LedgerError,
  type LedgerEvent,
  type LedgerKind,
  NO_HASH,
  type Verification,
  verifiedChain,
} from './chain'
export { type EntryInWords, entryInWords } from './words'
