import { z } from 'zod'

/** One version of terms, whole, as it was served. */
export const TermsText = z.object({
  id: z.number().int(),
  title: z.string(),
  version: z.string(),
  url: z.string().nullable(),
  text: z.string(),
  sha256: z.string(),
  seenAt: z.iso.datetime(),
})
export type TermsText = z.infer<typeof TermsText>
