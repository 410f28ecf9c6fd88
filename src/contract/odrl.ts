import { z } from 'zod'
import { CLAUSE_KEYS, DURATIONS } from '../core/rights'
import { inputs as messages } from '../messages/server/inputs'

const line = (max: number) => z.string().max(max)
const day = z.iso.date()

export const LimitSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('countries'), codes: z.array(z.string().regex(/^[A-Z]{2}$/)).max(300) }),
  z.strictObject({ kind: z.literal('videos'), max: z.number().int().positive() }),
  z.strictObject({ kind: z.literal('people'), max: z.number().int().positive() }),
  z.strictObject({ kind: z.literal('seats'), max: z.number().int().positive() }),
  z.strictObject({ kind: z.literal('length'), maxS: z.number().positive() }),
  z.strictObject({ kind: z.literal('platforms'), names: z.array(line(200)).min(1).max(100) }),
  z.strictObject({ kind: z.literal('until'), day }),
  z.strictObject({
    kind: z.literal('credit'),
    owed: z.boolean(),
    where: line(200),
    template: line(2000).nullable(),
  }),
])

/** Terms as a policy states them under our prefix. */
export const StatedTermsSchema = z.strictObject({
  title: line(200),
  shortTitle: line(60),
  version: line(40),
  spdxId: line(60).nullable(),
  url: line(2000)
    .refine((url) => /^https?:\/\//.test(url), messages.anAddressBeginsWithHttp)
    .nullable(),
  duration: z.enum(DURATIONS),
  clauses: z
    .array(
      z.strictObject({
        key: z.enum(CLAUSE_KEYS),
        answer: z.enum(['yes', 'no', 'duty', 'not-stated']),
        quote: line(20_000).nullable(),
        limit: LimitSchema.exactOptional(),
        against: line(20_000).exactOptional(),
      }),
    )
    .max(CLAUSE_KEYS.length),
  text: line(800_000).nullable(),
})

/** What a policy states of its grant. */
export const GrantScopeSchema = z.strictObject({
  kind: line(40),
  title: line(400),
  acquiredOn: day,
  planFrom: day.nullable(),
  planUntil: day.nullable(),
  boundTo: z.array(line(100)).max(10_000),
  onTheWordOf: line(200).nullable(),
})

/** What came of a file of policies. */
export const PoliciesTaken = z.object({
  /** Terms that the file holds, the first hundred. */
  termsIds: z.array(z.number().int()).max(100),
  newCount: z.number().int(),
  onFileCount: z.number().int(),
  /** Agreements that stand under terms of the same file. */
  agreementCount: z.number().int(),
  unreadCount: z.number().int(),
  /** Why the first of those could not be read. */
  firstProblem: z.string().nullable(),
})
export type PoliciesTaken = z.infer<typeof PoliciesTaken>

/** Points of an imported policy that the creator confirms. */
export const ConfirmPolicyInput = z.object({ confirmed: z.array(z.enum(CLAUSE_KEYS)).max(CLAUSE_KEYS.length) })
