import { z } from 'zod'
import { inputs as messages } from '../messages/server/inputs'

/** Libraries that this version knows by code. */
export const LIBRARY_IDS = ['tin-barn', 'heron-slate', 'pell-marrow', 'skerryview'] as const
export type LibraryId = (typeof LIBRARY_IDS)[number]

const Secret = z.string().trim().max(2000, messages.keyNotThatLong)

/** What signs us in at a library. Sent once and never shown again. */
export const LibrarySecrets = z.strictObject({
  key: Secret.exactOptional(),
  user: Secret.exactOptional(),
  password: Secret.exactOptional(),
})
export type LibrarySecrets = z.infer<typeof LibrarySecrets>

/** What a library asks for to let one in. */
export const SignInWith = z.enum(['nothing', 'key', 'password'])
export type SignInWith = z.infer<typeof SignInWith>

/** A kind of library that can be connected. */
export const LibraryKind = z.object({
  id: z.enum(LIBRARY_IDS),
  name: z.string(),
  about: z.string(),
  signInWith: SignInWith,
  /** Where it is, where that is known. */
  address: z.string().nullable(),
})
export type LibraryKind = z.infer<typeof LibraryKind>
export const LibraryKindList = z.object({ kinds: z.array(LibraryKind) })

/** Five times the largest that ships. The worst text of this size is read in a third of a second; of eight times the size it would take twenty. */
export const MAX_DESCRIPTION_BYTES = 24_000

/** A description as it was written, read for the form. */
export const DescriptionInput = z.object({
  text: z.string().min(1, messages.itIsEmpty).max(MAX_DESCRIPTION_BYTES, messages.largerThan24Kb),
})
export const DescriptionRead = z.object({
  name: z.string(),
  about: z.string(),
  address: z.string(),
  signInWith: SignInWith,
})
export type DescriptionRead = z.infer<typeof DescriptionRead>

/** A library that is to be tried or connected. */
export const LibraryInput = z.object({
  of: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('known'), id: z.enum(LIBRARY_IDS) }),
    z.object({ kind: z.literal('described'), text: DescriptionInput.shape.text }),
  ]),
  name: z.string().trim().min(1, messages.writeAName).max(120),
  address: z.url({ protocol: /^https?$/, error: messages.writeAddressThatBeginsWith }).max(500),
  secrets: LibrarySecrets,
})
export type LibraryInput = z.infer<typeof LibraryInput>

/** A sound of a library as it was understood. */
export const TriedSound = z.object({
  title: z.string(),
  maker: z.string(),
  category: z.string(),
  lengthS: z.number(),
  kind: z.string(),
  cost: z.string(),
  /** Title of its terms; null where they could not be had. */
  terms: z.string().nullable(),
})
export type TriedSound = z.infer<typeof TriedSound>

/** What a try of a library gave. Nothing is kept of it. */
export const LibraryTried = z.object({
  plan: z.string().nullable(),
  planUntil: z.string().nullable(),
  /** Sounds in its catalogue, where it tells. */
  total: z.number().int().nullable(),
  sounds: z.array(TriedSound),
  /** What could be fetched of the first sound to hear it, in words; null where nothing. */
  preview: z.string().nullable(),
  /** What is not as it should be, by the field that it is about. */
  problems: z.array(z.object({ field: z.string(), message: z.string() })),
})
export type LibraryTried = z.infer<typeof LibraryTried>

export const PausedInput = z.object({ paused: z.boolean() })
export const SecretsInput = z.object({ secrets: LibrarySecrets })
export const ConnectedLibrary = z.object({ id: z.string(), jobId: z.number().int() })
