import { z } from 'zod'
import { LEDGER_KINDS } from '../core/ledger'

const Head = z.object({ number: z.number().int().min(0), hash: z.string().regex(/^[0-9a-f]{64}$/) })

/** What the last verification of the ledger came to. */
export const LedgerReport = z.object({
  at: z.iso.datetime(),
  entries: z.number().int(),
  head: Head,
  /** The first entry that does not hold, in a sentence; null where the chain holds. */
  broken: z.string().nullable(),
  /** What is not as the ledger says, a sentence each; the first thousand. */
  mismatches: z.array(z.string()).max(1000),
  mismatchCount: z.number().int(),
})
export type LedgerReport = z.infer<typeof LedgerReport>

export const LedgerPage = z.object({
  head: Head,
  /** The newest first. */
  entries: z.array(
    z.object({
      number: z.number().int(),
      at: z.string(),
      kind: z.enum(LEDGER_KINDS),
      hash: z.string(),
      sentence: z.string(),
      lines: z.array(z.string()),
    }),
  ),
  report: LedgerReport.nullable(),
})
export type LedgerPage = z.infer<typeof LedgerPage>
export const LedgerQuery = z.object({
  before: z.coerce.number().int().positive().optional(),
  limit: z.coerce.number().int().min(1).max(500).default(200),
})

/** A head that was kept elsewhere. */
export const KeptHead = Head
export type KeptHead = z.infer<typeof KeptHead>
export const KeptHeadAnswer = z.object({ holds: z.boolean(), sentence: z.string() })
export type KeptHeadAnswer = z.infer<typeof KeptHeadAnswer>
