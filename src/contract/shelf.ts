import { z } from 'zod'
import { inputs as messages } from '../messages/server/inputs'
import { SoundSummary, UsedIn } from './sound'

const id = z.number().int().positive()
const words = z.string().trim().min(1).max(40)

/** A sound on the Shelf. */
export const ShelfSound = SoundSummary.extend({
  keptAt: z.string().nullable(),
  note: z.string(),
  /** Name that its source gives it, where the creator gave it another. */
  originalTitle: z.string().nullable(),
  fileName: z.string().nullable(),
  collectionIds: z.array(id),
  habits: z.array(z.string()),
  /** Where it is heard, by the newest check of each video. */
  usedIn: z.array(UsedIn),
})
export type ShelfSound = z.infer<typeof ShelfSound>

export const Collection = z.object({
  id,
  name: z.string(),
  /** Its sounds in their order. */
  soundIds: z.array(id),
})
export type Collection = z.infer<typeof Collection>

export const Shelf = z.object({
  sounds: z.array(ShelfSound),
  collections: z.array(Collection),
  /** Sounds that are the same audio, those with the better papers first. */
  duplicates: z.array(z.object({ soundIds: z.array(id), how: z.enum(['same file', 'same recording']) })),
  /** More is on the Shelf than is shown. */
  cut: z.boolean(),
})
export type Shelf = z.infer<typeof Shelf>

export const KeepInput = z.object({ note: z.string().trim().max(500).optional(), collectionId: id.optional() })
export type KeepInput = z.infer<typeof KeepInput>

/** One change to several sounds. */
export const ShelfEdit = z.discriminatedUnion('do', [
  z.object({ do: z.literal('keep'), soundIds: z.array(id).min(1).max(500) }),
  z.object({ do: z.literal('unkeep'), soundIds: z.array(id).min(1).max(500) }),
  /** Puts sounds into a collection, before one of its sounds or at its end. What is not kept yet is kept. */
  z.object({
    do: z.literal('put'),
    soundIds: z.array(id).min(1).max(500),
    collectionId: id,
    beforeId: id.nullable().default(null),
  }),
  z.object({ do: z.literal('take-out'), soundIds: z.array(id).min(1).max(500), collectionId: id }),
  z.object({ do: z.literal('habit'), soundIds: z.array(id).min(1).max(500), words }),
  z.object({ do: z.literal('no-habit'), soundIds: z.array(id).min(1).max(500), words }),
  /** Null gives the original name back. */
  z.object({
    do: z.literal('rename'),
    soundIds: z.array(id).length(1),
    title: z.string().trim().min(1).max(120).nullable(),
  }),
])
export type ShelfEdit = z.infer<typeof ShelfEdit>

export const CollectionInput = z.object({ name: z.string().trim().min(1, messages.giveTheCollectionAName).max(60) })
export const CollectionChange = z.object({
  name: CollectionInput.shape.name.optional(),
  /** The collection that it is put before; null for the end. */
  beforeId: id.nullable().optional(),
})

const BatchLine = z.object({
  soundId: id,
  title: z.string(),
  how: z.enum(['here', 'free', 'buy', 'not']),
  tier: z.string().nullable(),
  tierTitle: z.string().nullable(),
  priceMinor: z.number().int(),
  currency: z.string().nullable(),
})
export const BatchPlan = z.object({ lines: z.array(BatchLine), total: z.string() })
export type BatchPlan = z.infer<typeof BatchPlan>
export const BatchIds = z.object({ soundIds: z.array(id).min(1).max(200) })
export const BatchInput = z.object({
  /** With the prices that were shown: nothing is bought above them. */
  items: z
    .array(z.object({ soundId: id, priceMinor: z.number().int().nonnegative() }))
    .min(1)
    .max(200),
})
export const BatchStarted = z.object({ batchId: id, jobId: id })
