import { z } from 'zod'
import { CLAUSE_KEYS } from '../core/rights'
import { CHOICE_ROLES } from '../core/sound-choices'
import { inputs as messages } from '../messages/server/inputs'
import { OrderWire } from './money'

/** The picture of a sound: columns of four bytes, low band first, base64. */
export const PrintWire = z.object({ columnS: z.number().positive(), levelsBase64: z.string() })
export type PrintWire = z.infer<typeof PrintWire>

export const FitWire = z.enum(['fits', 'fits-with-credit', 'does-not-fit', 'not-stated'])

export const ReasonWire = z.object({
  key: z.enum(CLAUSE_KEYS),
  effect: z.enum(['allows', 'asks', 'bars', 'unstated']),
  sentence: z.string(),
  quote: z.string().nullable(),
})
export type ReasonWire = z.infer<typeof ReasonWire>

export const SoundSummary = z.object({
  id: z.number().int(),
  title: z.string(),
  maker: z.string(),
  category: z.string(),
  source: z.object({ id: z.string(), name: z.string(), kind: z.enum(['library', 'folder', 'elsewhere']) }),
  durationS: z.number().nonnegative(),
  /** What kind of sound it is, as its source says. */
  kind: z.enum(['effect', 'ambience', 'music']),
  /** What it costs, in words: "free", "in your plan". */
  cost: z.string(),
  /** Sold by the sound, in tiers. */
  sold: z.boolean(),
  /** The licence in two words: "CC BY", "Plan"; that of the newest papers, before there are any that of the offer. */
  licence: z.string(),
  loudnessLufs: z.number().nullable(),
  hitS: z.number().nullable(),
  print: PrintWire.nullable(),
  /** Null while no video is in hand. */
  fit: FitWire.nullable(),
  /** SHA-256 of what is heard of it here, preview or file; null while nothing is. */
  audioSha256: z.string().nullable(),
  /** SHA-256 of the copy that is here, or null. */
  copySha256: z.string().nullable(),
  withdrawn: z.boolean(),
  kept: z.boolean(),
  /** Videos that it was heard in. */
  usedCount: z.number().int(),
  /** In how many stems, parts and versions it can be had beside the whole. */
  choiceCount: z.number().int(),
  /** How alike it is to what is compared with, 0 to 1, and what differs in words; null where nothing is. */
  likeness: z.object({ fraction: z.number(), differences: z.array(z.string()) }).nullable(),
})
export type SoundSummary = z.infer<typeof SoundSummary>

/** A video in which a sound is heard, and when. */
export const UsedIn = z.object({ videoId: z.number().int(), title: z.string(), timesS: z.array(z.number()) })
export type UsedIn = z.infer<typeof UsedIn>

/** Papers as the interface shows them. */
export const PapersWire = z.object({
  grantId: z.number().int(),
  kind: z.string(),
  acquiredAt: z.iso.datetime(),
  licensee: z.string(),
  grantTitle: z.string(),
  planFrom: z.string().nullable(),
  planUntil: z.string().nullable(),
  termsId: z.number().int(),
  termsTitle: z.string(),
  termsVersion: z.string(),
  termsSha256: z.string(),
  creditLine: z.string().nullable(),
  orderRef: z.string(),
  evidence: z.array(z.object({ id: z.number().int(), fileName: z.string(), mime: z.string() })),
  /** Whether it is on record that these papers are for the video in hand; null while none is in hand. */
  boundToVideo: z.boolean().nullable(),
  /** Whether the terms hold for a number of videos only. */
  needsVideo: z.boolean(),
  /** Points on which something has to be done first, and whether that is on record for the video in hand. */
  conditions: z.array(z.object({ key: z.enum(CLAUSE_KEYS), met: z.boolean() })),
})

/** A stem, part or version of an entry: a sound of its own, that is heard, taken and filed by itself. */
export const ChoiceWire = SoundSummary.extend({ role: z.enum(CHOICE_ROLES), name: z.string() })
export type ChoiceWire = z.infer<typeof ChoiceWire>

export const SoundDetail = SoundSummary.extend({
  /** Stems, then parts, then versions, each in the order of its library. */
  choices: z.array(ChoiceWire),
  /** The entry that it is a choice of, where it is one. */
  choiceOf: z
    .object({ soundId: z.number().int(), title: z.string(), role: z.enum(CHOICE_ROLES), name: z.string() })
    .nullable(),
  description: z.string(),
  /** The name that its source gives it, where the creator gave it another. */
  originalTitle: z.string().nullable(),
  tags: z.array(z.string()),
  /** Words and category that the creator gave it. */
  ownWords: z.array(z.string()),
  ownCategory: z.string().nullable(),
  /** Length that the source claims, where it is not the one that was measured. */
  listedDurationS: z.number().nullable(),
  /** For music, where the source says so. */
  tempoBpm: z.number().nullable(),
  mood: z.string().nullable(),
  vocals: z.boolean().nullable(),
  pageUrl: z.string().nullable(),
  formats: z.array(z.string()),
  /** Where the file lies, for a sound of a folder of the creator's own. */
  folderFile: z.string().nullable(),
  /** Where it is heard, by the newest check of each video. */
  usedIn: z.array(UsedIn),
  terms: z.object({
    id: z.number().int(),
    title: z.string(),
    version: z.string(),
    url: z.string().nullable(),
    sha256: z.string(),
  }),
  /** Every point that bears on the uses of the video in hand; empty while there is none. */
  reasons: z.array(ReasonWire),
  /** What would settle it, the nearest first. */
  settlements: z.array(z.string()),
  /** What it costs, where it is sold by the sound; the cheapest first. */
  /** Orders of it for which something is still to come: the file, the receipt, an answer. */
  orders: z.array(OrderWire),
  tiers: z.array(
    z.object({
      key: z.string(),
      title: z.string(),
      price: z.string(),
      priceMinor: z.number().int(),
      termsId: z.number().int(),
    }),
  ),
  papers: z.array(PapersWire),
  /** `isHere` is false when its file was lost. */
  copy: z
    .object({ sha256: z.string(), fileName: z.string(), sizeBytes: z.number().int(), isHere: z.boolean() })
    .nullable(),
})
export type SoundDetail = z.infer<typeof SoundDetail>

const OwnWord = z.string().trim().min(1, messages.writeAWord).max(60, messages.wordHasAtMost60)
/** Words and a category that the creator gives a sound of their own; what its file says stays beside them. */
export const OwnWordsInput = z.object({
  words: z.array(OwnWord).max(60, messages.noMoreThan60Words),
  category: z.string().trim().min(1).max(60).nullable(),
})
export type OwnWordsInput = z.infer<typeof OwnWordsInput>

/** Words for a sound by what it sounds like. */
export const WordProposalWire = z.object({
  words: z.array(z.object({ word: z.string(), share: z.number() })),
  category: z.object({ name: z.string(), share: z.number() }).nullable(),
  neighbours: z.number().int(),
})
