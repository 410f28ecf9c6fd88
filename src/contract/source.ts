import { z } from 'zod'
import { inputs as messages } from '../messages/server/inputs'
import { OwnSpeech } from './clearance'

export const SourceWire = z.object({
  id: z.string(),
  name: z.string(),
  about: z.string(),
  connected: z.boolean(),
  /** It can be disconnected, or removed where it could never be read. */
  mayBeRemoved: z.boolean(),
  /** A library that is left alone for a while. */
  paused: z.boolean(),
  /** A library that is searched while one types, and not mirrored. */
  live: z.boolean(),
  /** Where a library is; null for what is none. */
  address: z.string().nullable(),
  /** The plan or account, in words. */
  plan: z.string(),
  planFrom: z.string().nullable(),
  planUntil: z.string().nullable(),
  soundCount: z.number().int(),
  /** Sounds whose audio has been listened to, so that they have a print and can be heard in a video. */
  listenedCount: z.number().int(),
  copyCount: z.number().int(),
  lastSyncAt: z.iso.datetime().nullable(),
  lastError: z.string().nullable(),
  kind: z.enum(['library', 'folder', 'elsewhere']),
  folderPath: z.string().nullable(),
  /** Terms that stand for everything in a folder, or null. */
  defaultTerms: z.string().nullable(),
  /** What the last sync or scan found, in words. */
  lastResult: z.string(),
  noPapersCount: z.number().int(),
  /** Licences that its catalogue names and whose text, as it serves it, is another one. */
  misfitLabels: z.array(z.string()),
})
export type SourceWire = z.infer<typeof SourceWire>
export const SourceList = z.object({ sources: z.array(SourceWire) })

const LevelLu = z.number().min(-40, messages.levelLiesBetween40And).max(20, messages.levelLiesBetween40And)
/** How sounds of each kind of moment are first placed to the voice, LU. */
export const LevelsToVoiceWire = z.object({
  hit: LevelLu,
  swell: LevelLu,
  spot: LevelLu,
  ambience: LevelLu,
  music: LevelLu,
  silence: LevelLu,
})

/** What the shell needs to know at once. */
export const ShellState = z.object({
  videoInHandId: z.number().int().nullable(),
  licensee: z.string(),
  /** How copies are named: text with {title}, {maker} and {source}. */
  namePattern: z.string(),
  soundCount: z.number().int(),
  videoCount: z.number().int(),
  connectedSources: z.number().int(),
  /** Of these, libraries that are searched while one types: there is something to find before anything is listed. */
  liveSources: z.number().int(),
  /** Offers that lie in the basket. */
  basketCount: z.number().int(),
  /** Who said that the voices in all videos are the channel's own; null while nobody did. */
  ownSpeech: OwnSpeech.nullable(),
  levelsToVoiceLu: LevelsToVoiceWire,
})
export type ShellState = z.infer<typeof ShellState>
export const ShellChange = z.object({
  videoInHandId: z.number().int().nullable().optional(),
  namePattern: z
    .string()
    .trim()
    .max(120)
    .refine((pattern) => pattern.includes('{title}'), messages.keepTitleInThePattern)
    .optional(),
  licensee: z.string().trim().min(1, messages.writeWhoHoldsTheLicences).max(200).optional(),
  /** Says, or takes back, that the voices in all videos are the channel's own. */
  ownSpeech: z
    .object({ by: z.string().trim().min(1, messages.writeYourName).max(120) })
    .nullable()
    .optional(),
  /** Null for the levels that stand at first. */
  levelsToVoiceLu: LevelsToVoiceWire.nullable().optional(),
})
export type ShellChange = z.infer<typeof ShellChange>
