import { z } from 'zod'
import { inputs as messages } from '../messages/server/inputs'

const Currency = z.string().regex(/^[A-Z]{3}$/)
const Minor = z.number().int().nonnegative().max(100_000_000)

/** Puts an offer into the basket. */
export const BasketInput = z.object({
  soundId: z.number().int().positive(),
  tier: z.string().min(1).max(40),
  videoId: z.number().int().positive().nullable(),
})

/** Changes the tier or the video of a line. */
export const BasketChange = z.object({
  tier: z.string().min(1).max(40).optional(),
  videoId: z.number().int().positive().nullable().optional(),
})

/** The lines that are paid for, with the prices that were shown: nothing is bought at another one. */
export const PayInput = z.object({
  lines: z
    .array(z.object({ id: z.number().int().positive(), priceMinor: Minor, currency: Currency }))
    .min(1)
    .max(500),
})

/** The most that may be spent in a month, in the smallest unit; null for no limit. */
export const LimitInput = z.object({ currency: Currency, minor: Minor.nullable() })

export const BasketLine = z.object({
  id: z.number(),
  soundId: z.number(),
  title: z.string(),
  sourceId: z.string(),
  sourceName: z.string(),
  videoId: z.number().nullable(),
  videoTitle: z.string().nullable(),
  tier: z.string(),
  /** Whether each tier allows the video; null where it is for none. */
  tiers: z.array(z.object({ key: z.string(), title: z.string(), price: z.string(), fits: z.boolean().nullable() })),
  priceMinor: z.number(),
  currency: z.string(),
  price: z.string(),
  notes: z.array(z.string()),
  isOffered: z.boolean(),
})
export type BasketLine = z.infer<typeof BasketLine>

export const BasketWire = z.object({
  licensee: z.string(),
  lines: z.array(BasketLine),
  totals: z.array(z.object({ sourceId: z.string(), sourceName: z.string(), total: z.string() })),
  limits: z.array(
    z.object({
      currency: z.string(),
      spentMinor: z.number(),
      spent: z.string(),
      limitMinor: z.number().nullable(),
      limit: z.string().nullable(),
    }),
  ),
})
export type BasketWire = z.infer<typeof BasketWire>

export const ORDER_STATES = [
  'done',
  'file-to-come',
  'receipt-to-come',
  'disputed',
  'not-answered',
  'not-bought',
] as const

/** How the state of an order is said. */
export const ORDER_STATE_WORDS: Readonly<Record<(typeof ORDER_STATES)[number], string>> = {
  done: messages.bought,
  'file-to-come': messages.fileStillToCome,
  'receipt-to-come': messages.receiptStillToCome,
  disputed: messages.chargedOtherwise,
  'not-answered': messages.notAnsweredYet,
  'not-bought': messages.notBought,
}

export const OrderWire = z.object({
  id: z.number(),
  at: z.string(),
  soundId: z.number(),
  title: z.string(),
  sourceName: z.string(),
  tier: z.string(),
  videoTitle: z.string().nullable(),
  order: z.string().nullable(),
  agreed: z.string(),
  paid: z.string().nullable(),
  paidMinor: z.number().nullable(),
  paidCurrency: z.string().nullable(),
  paidAt: z.string().nullable(),
  /** Number of the evidence; null while there is no receipt. */
  receiptId: z.number().nullable(),
  state: z.enum(ORDER_STATES),
  message: z.string(),
  nextTryAt: z.string().nullable(),
})
export type OrderWire = z.infer<typeof OrderWire>

export const JournalWire = z.object({
  orders: z.array(OrderWire),
  totals: z.array(z.object({ month: z.string(), sourceName: z.string(), total: z.string() })),
})
export type JournalWire = z.infer<typeof JournalWire>
