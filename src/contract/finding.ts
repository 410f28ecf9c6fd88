import { z } from 'zod'
import { COST_KINDS, COUNT_KINDS, type FilterKind, SORTS, SOUND_KINDS } from '../core/finding'
import { inputs as messages } from '../messages/server/inputs'
import { FitWire, SoundSummary } from './sound'

/** What results have to sound like: a sound of the catalogue, or something that was described before. */
const Like = z
  .string()
  .regex(/^(sound|probe):\d{1,15}$/, messages.isNoSound)
  .transform((text) => {
    const [kind = '', id] = text.split(':')
    return { kind: kind as 'sound' | 'probe', id: Number(id) }
  })

const Looked = {
  /** Words, and conditions in square brackets. */
  q: z.string().max(600).default(''),
  like: Like.optional(),
}

export const SoundQuery = z.object({
  ...Looked,
  sort: z.enum(SORTS).default('best'),
  limit: z.coerce.number().int().min(1).max(200).default(60),
  offset: z.coerce.number().int().min(0).max(1_000_000).default(0),
})
export type SoundQuery = z.infer<typeof SoundQuery>

export const CountQuery = z.object({
  ...Looked,
  kinds: z
    .string()
    .default('category,source')
    .transform((text) => text.split(','))
    .pipe(z.array(z.enum(COUNT_KINDS)).min(1).max(COUNT_KINDS.length)),
})
export type CountQuery = z.infer<typeof CountQuery>

/** After how long changes that are not in an answer yet can be asked for, ms; null when it knows everything. */
const BehindMs = z.number().positive().nullable()

export const SoundPage = z.object({
  sounds: z.array(SoundSummary),
  total: z.number().int(),
  /** Sounds in all libraries and folders, whatever the query. */
  catalogueTotal: z.number().int(),
  /** Words that stand nowhere, and what was taken for them. */
  corrections: z.array(z.object({ typed: z.string(), shown: z.string() })),
  /** For each condition, in their order: how many sounds it hides, and how many it alone hides. */
  hides: z.array(
    z.object({ kind: z.custom<FilterKind>(), hidden: z.number().int(), hiddenByItAlone: z.number().int() }),
  ),
  /** What results are compared with. */
  likeTitle: z.string().nullable(),
  behindMs: BehindMs,
})
export type SoundPage = z.infer<typeof SoundPage>

/** What a part of a list holds, and why it is shown. */
export const SectionHeading = z.discriminatedUnion('kind', [
  /** Sounds for a moment of the video in hand that has none yet. */
  z.object({
    kind: z.literal('moment'),
    videoId: z.number().int(),
    momentId: z.string(),
    words: z.string(),
    /** "0:23:10", or seconds while there is no cut. */
    time: z.string(),
    /** What Find is asked to see all sounds for it. */
    q: z.string(),
    count: z.number().int(),
  }),
  z.object({ kind: z.literal('category'), name: z.string(), count: z.number().int() }),
  z.object({ kind: z.enum(['kept', 'often-used', 'newest']), count: z.number().int() }),
  /** Sounds that answer to some of the words. */
  z.object({ kind: z.literal('words'), met: z.array(z.string()), of: z.number().int(), count: z.number().int() }),
  /** Sounds that sound like the best that was found. */
  /** Sounds that a library has for the words which do not stand in their own texts. */
  z.object({ kind: z.literal('live'), sourceId: z.string(), name: z.string() }),
  z.object({ kind: z.literal('alike'), soundId: z.number().int(), title: z.string() }),
])
export type SectionHeading = z.infer<typeof SectionHeading>

/** A list of sounds in parts, none of them twice. */
export const SoundSections = z.object({
  sections: z.array(z.object({ heading: SectionHeading, sounds: z.array(SoundSummary).min(1) })),
  behindMs: BehindMs,
})
export type SoundSections = z.infer<typeof SoundSections>

/** A search of one library that is not mirrored. */
export const LiveAsk = z.object({
  source: z.string().max(80),
  q: z.string().max(600),
  after: z.string().max(2000).nullable().default(null),
})
/** What a library has for a query. */
export const LiveFound = z.object({
  ids: z.array(z.number().int()),
  /** Sounds that it has for the query, where it tells. */
  total: z.number().int().nullable(),
  /** To ask for more with; null where there is no more. */
  next: z.string().nullable(),
  sounds: z.array(SoundSummary),
})
export type LiveFound = z.infer<typeof LiveFound>

export const ListenInput = z.object({ ids: z.array(z.number().int().positive()).max(60) })
/** How many of them are still to be listened to. */
export const Listening = z.object({ waiting: z.number().int() })

export const NearbyQuery = z.object({ q: z.string().max(600) })
export type NearbyQuery = z.infer<typeof NearbyQuery>

const counted = <T extends z.ZodType>(value: T) => z.array(z.object({ value, count: z.number().int() })).optional()

export const SoundCounts = z.object({
  category: counted(z.object({ group: z.string(), name: z.string() })),
  source: counted(z.string()),
  licence: counted(z.string()),
  mood: counted(z.string()),
  type: counted(z.enum(SOUND_KINDS)),
  cost: counted(z.enum(COST_KINDS)),
  fit: counted(FitWire),
  credit: counted(z.boolean()),
  here: counted(z.boolean()),
  kept: counted(z.boolean()),
  used: counted(z.boolean()),
  channels: counted(z.enum(['mono', 'stereo'])),
  loops: counted(z.boolean()),
  vocals: counted(z.boolean()),
  length: z.array(z.number().int()).optional(),
  tempo: z.array(z.number().int()).optional(),
  behindMs: BehindMs,
})
export type SoundCounts = z.infer<typeof SoundCounts>

export const SavedSearchInput = z.object({
  name: z.string().trim().min(1, messages.giveTheSearchAName).max(60),
  query: z.string().max(600),
  sort: z.enum(SORTS),
})
export type SavedSearchInput = z.infer<typeof SavedSearchInput>
export const SavedSearch = SavedSearchInput.extend({ id: z.number().int() })
export type SavedSearch = z.infer<typeof SavedSearch>
export const SavedSearches = z.object({ searches: z.array(SavedSearch) })

/** Something that was described in order to find what sounds like it. */
export const Probe = z.object({ id: z.number().int(), title: z.string() })
export type Probe = z.infer<typeof Probe>

/** The creator's own lines of the vocabulary, and lines that cannot be read. */
export const VocabularyWire = z.object({
  own: z.string(),
  groupCount: z.number().int(),
  problems: z.array(z.object({ line: z.number().int(), text: z.string() })),
})
export const VocabularyInput = z.object({ own: z.string().max(200_000) })

/** Words of a video that stand for sounds, with what was laid there before. */
export const SpokenWords = z.object({
  fileName: z.string().nullable(),
  cueCount: z.number().int(),
  moments: z.array(
    z.object({
      words: z.string(),
      atS: z.number(),
      said: z.string(),
      /** Sounds that are offered first: those with the habit, then those that were heard at this word in earlier videos. */
      first: z.array(z.object({ id: z.number().int(), title: z.string(), why: z.enum(['habit', 'used before']) })),
    }),
  ),
})
export type SpokenWords = z.infer<typeof SpokenWords>
