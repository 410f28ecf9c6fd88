import { z } from 'zod'

/** An error answer (RFC 9457 problem details). `detail` is a sentence that says what happened and what to do. */
export const Problem = z.object({
  type: z.string(),
  title: z.string(),
  status: z.number().int(),
  detail: z.string(),
  /** Stable word for programs. */
  code: z.string(),
})
export type Problem = z.infer<typeof Problem>
