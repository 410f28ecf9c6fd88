import { z } from 'zod'
import { CLAUSE_KEYS, DURATIONS, KNOWN_LICENCES, type Limit } from '../core/rights'
import { inputs as messages } from '../messages/server/inputs'
import { ReasonWire } from './sound'
import { UsesSchema } from './video'

const line = (max: number) => z.string().trim().max(max)

/** A text, with what the creator confirmed of it. */
const TextTerms = z.object({
  kind: z.literal('text'),
  title: line(200).default(''),
  text: z.string().trim().min(20, messages.pasteWholeTextTerms).max(200_000),
  /** Points of the text that the creator confirmed. */
  confirmed: z.array(z.enum(CLAUSE_KEYS)).max(CLAUSE_KEYS.length),
  /** Sentences that were not understood, and that the creator has read and found to restrict nothing here; as they were quoted. */
  setAside: z.array(z.string().max(2000)).max(500).default([]),
})

/** What the creator says of a sound that came by another way than a library. */
export const DeclarationInput = z.object({
  /** Where it came from. */
  from: line(300).default(''),
  /** From whom. */
  who: line(200).default(''),
  when: z.union([z.iso.date(), z.literal('')]).default(''),
  note: line(1000).default(''),
  terms: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('unknown') }),
    z.object({ kind: z.literal('own') }),
    /** Terms that are here already, such as an imported policy. */
    z.object({ kind: z.literal('filed'), termsId: z.number().int().positive() }),
    z.object({
      kind: z.literal('known'),
      spdxId: z.string().refine((id) => KNOWN_LICENCES.has(id), messages.chooseLicenceFromList),
    }),
    TextTerms,
  ]),
})
export type DeclarationInput = z.infer<typeof DeclarationInput>

export const RecordInput = z.object({
  videoId: z.number().int().positive(),
  /** "projects" binds the papers to the video; any other point says that its duty was met. */
  key: z.enum(CLAUSE_KEYS),
  note: line(500).default(''),
})

const LimitWire = z.custom<Limit>((value) => typeof value === 'object' && value !== null && 'kind' in value)

export const ProposedClauseWire = z.object({
  key: z.enum(CLAUSE_KEYS),
  answer: z.enum(['yes', 'no', 'duty']),
  quote: z.string(),
  confidence: z.number(),
  limit: LimitWire.optional(),
  /** What the text says for the contrary. */
  against: z.string().optional(),
})
export type ProposedClauseWire = z.infer<typeof ProposedClauseWire>
export const ReadingWire = z.object({
  licences: z.array(
    z.object({
      spdxId: z.string(),
      title: z.string(),
      by: z.enum(['text', 'identifier', 'url', 'name']),
      quote: z.string(),
      confidence: z.number(),
    }),
  ),
  /** The licence that it would be but for what was added and what is missing. */
  like: z.object({ title: z.string(), added: z.array(z.string()), missing: z.array(z.string()) }).nullable(),
  clauses: z.array(ProposedClauseWire),
  /** Sentences that were not understood, with the points they touch; none means every point. */
  open: z.array(z.object({ quote: z.string(), keys: z.array(z.enum(CLAUSE_KEYS)) })),
})
export type ReadingWire = z.infer<typeof ReadingWire>
export const ReadInput = z.object({ text: z.string().min(1).max(200_000) })

/** What stands for all sounds of a folder, or null when nothing does. */
const SaidTerms = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('own') }),
  z.object({
    kind: z.literal('known'),
    spdxId: z.string().refine((id) => KNOWN_LICENCES.has(id), messages.chooseALicence),
  }),
  TextTerms,
])

export const FolderInput = z.object({
  path: z.string().trim().min(1, 'write the path of the folder').max(1000),
  name: line(80).default(''),
  defaultTerms: SaidTerms.nullable().default(null),
})
export type FolderInput = z.infer<typeof FolderInput>
export const FolderAdded = z.object({ id: z.string(), jobId: z.number().int() })

/** A text found beside files that speaks of rights. */
export const ProposalWire = z.object({
  id: z.number().int(),
  sourceId: z.string(),
  sourceName: z.string(),
  path: z.string(),
  text: z.string(),
  /** Sounds that it would become the papers of. */
  soundCount: z.number().int(),
  reading: ReadingWire,
})
export type ProposalWire = z.infer<typeof ProposalWire>
export const ProposalList = z.object({ proposals: z.array(ProposalWire) })
export const ProposalAnswer = z.discriminatedUnion('accept', [
  z.object({ accept: z.literal(false) }),
  z.object({ accept: z.literal(true), terms: SaidTerms }),
])
export type ProposalAnswer = z.infer<typeof ProposalAnswer>
export const ElsewhereTaken = z.object({ soundId: z.number().int(), already: z.boolean() })

/** Who put papers on record by word alone, and on which day. */
export const DeclaredWire = z.object({ by: z.string(), on: z.string() })

/** Marks of a use in the grid of papers. */
export const VerdictMark = z.enum(['clear', 'owes-credit', 'not-allowed', 'no-papers'])

/** One copy and its papers, with what they allow. */
export const PapersRow = z.object({
  soundId: z.number().int(),
  title: z.string(),
  maker: z.string(),
  sourceName: z.string(),
  /** Null for a copy that has no papers. */
  grantId: z.number().int().nullable(),
  /** "library", "plan", "purchase", "declared", "licence". */
  kind: z.string(),
  grantTitle: z.string(),
  declared: DeclaredWire.nullable(),
  paid: z.string().nullable(),
  termsId: z.number().int().nullable(),
  termsTitle: z.string(),
  termsVersion: z.string(),
  acquiredAt: z.iso.datetime().nullable(),
  /** Last day on which a video may be first published under them, or null while there is none. */
  expiresOn: z.string().nullable(),
  creditLine: z.string().nullable(),
  evidence: z.array(z.object({ id: z.number().int(), fileName: z.string(), mime: z.string() })),
  videoTitles: z.array(z.string()),
  /** For each use place in its order, then for a video that earns online. */
  marks: z.array(VerdictMark),
})
export type PapersRow = z.infer<typeof PapersRow>
export const PapersList = z.object({ rows: z.array(PapersRow), today: z.iso.date() })

/** A version of terms with everything that is told of it. */
export const TermsPage = z.object({
  id: z.number().int(),
  sourceName: z.string(),
  title: z.string(),
  version: z.string(),
  spdxId: z.string().nullable(),
  url: z.string().nullable(),
  text: z.string(),
  sha256: z.string(),
  seenAt: z.iso.datetime(),
  duration: z.enum(DURATIONS),
  plain: z.object({
    may: z.array(z.string()),
    mayNot: z.array(z.string()),
    owed: z.array(z.string()),
    silent: z.array(z.string()),
  }),
  clauses: z.array(
    z.object({
      key: z.enum(CLAUSE_KEYS),
      answer: z.enum(['yes', 'no', 'duty', 'not-stated']),
      quote: z.string().nullable(),
      limit: LimitWire.optional(),
    }),
  ),
  /** Points of an imported policy that count only when they are confirmed; null for all other terms. */
  toConfirm: z.array(z.enum(CLAUSE_KEYS)).nullable(),
  /** All versions of the same terms, the newest first. */
  versions: z.array(z.object({ id: z.number().int(), version: z.string(), seenAt: z.iso.datetime() })),
  /** Word by word against the version before; null for the first. */
  differences: z.array(z.object({ kind: z.enum(['same', 'gone', 'new']), text: z.string() })).nullable(),
  offeredCount: z.number().int(),
  copies: z.array(z.object({ soundId: z.number().int(), title: z.string(), acquiredAt: z.iso.datetime() })),
  copyCount: z.number().int(),
  videos: z.array(z.object({ id: z.number().int(), title: z.string() })),
})
export type TermsPage = z.infer<typeof TermsPage>

export const MayIInput = z.object({
  soundId: z.number().int().positive(),
  uses: UsesSchema,
  /** Video that the question is about; null for a general one. */
  videoId: z.number().int().positive().nullable().default(null),
})

/** The answer to "may I?". */
export const MayIAnswer = z.object({
  verdict: VerdictMark,
  /** Whether it rests on papers on file; else on the terms that a download today would come under. */
  onFile: z.boolean(),
  reasons: z.array(ReasonWire),
  settlements: z.array(z.string()),
  duties: z.array(z.enum(['credit', 'share-alike', 'registration', 'report'])),
  creditLine: z.string().nullable(),
  terms: z.object({ id: z.number().int(), title: z.string(), version: z.string() }),
  /** Whose word it rests on; null for papers that a library gave. */
  declared: DeclaredWire.nullable(),
})
export type MayIAnswer = z.infer<typeof MayIAnswer>

/** Something that wants attention. */
export const Notice = z.object({
  /** The same for the same thing, so that it stays put away. */
  key: z.string(),
  kind: z.enum(['video', 'heard', 'plan', 'terms', 'withdrawn', 'source', 'proposal', 'room', 'order']),
  urgent: z.boolean(),
  title: z.string(),
  sentence: z.string(),
  href: z.string().nullable(),
  videos: z.array(z.object({ id: z.number().int(), title: z.string(), meaning: z.string() })),
})
export type Notice = z.infer<typeof Notice>
export const DeskWire = z.object({ notices: z.array(Notice), seen: z.array(Notice) })
export const SeenInput = z.object({ key: z.string().min(1).max(300), seen: z.boolean() })

export const TermsSummary = z.object({
  id: z.number().int(),
  title: z.string(),
  version: z.string(),
  sourceName: z.string(),
  /** An imported policy whose points nobody has confirmed: no papers stand under it. */
  isUnconfirmed: z.boolean(),
  versionCount: z.number().int(),
  offeredCount: z.number().int(),
  copyCount: z.number().int(),
})
export type TermsSummary = z.infer<typeof TermsSummary>
export const TermsSummaryList = z.object({ terms: z.array(TermsSummary) })
