import { z } from 'zod'
import {
  MAX_REACTION_S,
  MOMENT_KINDS,
  MOMENT_LIMITS,
  MOMENT_WEIGHTS,
  type MomentsDocument,
  type MomentsEdit,
  type Reaction,
  SHORT_LIST_SLOTS,
  SUGGESTION_KINDS,
} from '../core/moments'
import { PICTURE_EVENT_KINDS } from '../core/picture'
import { inputs as messages } from '../messages/server/inputs'
import { TimeRangeWire } from './facts'
import { SegmentWire } from './listening'

const Time = z.number().min(0, messages.aTimeIsNotNegative).max(MOMENT_LIMITS.timeS)
const MomentId = z.string().regex(/^[\w-]{1,64}$/)

const ShortListedSchema = z.object({
  slot: z.enum(SHORT_LIST_SLOTS),
  soundId: z.number().int().positive(),
  reason: z.string().max(MOMENT_LIMITS.reasonLength),
})

const Values = {
  atS: Time,
  endS: Time.nullable(),
  words: z.string().max(MOMENT_LIMITS.wordsLength),
  kind: z.enum(MOMENT_KINDS),
  weight: z.enum(MOMENT_WEIGHTS),
  note: z.string().max(MOMENT_LIMITS.noteLength),
  shortList: z.array(ShortListedSchema).max(SHORT_LIST_SLOTS.length),
  soundId: z.number().int().positive().nullable(),
  cutOutFromS: Time.nullable(),
}
const MomentSchema = z.object({ id: MomentId, ...Values })
const DismissedSchema = z.object({ kind: z.string().max(40), atS: Time })

export const MomentsDocumentSchema: z.ZodType<MomentsDocument> = z.object({
  version: z.literal(1),
  moments: z.array(MomentSchema).max(MOMENT_LIMITS.moments),
  dismissed: z.array(DismissedSchema).max(MOMENT_LIMITS.dismissed),
  crowdedPerMinute: z.number().min(1).max(600),
})

const ChangeSchema = z.object({ id: MomentId, to: z.object(Values).partial().strict() })

export const MomentsEditSchema: z.ZodType<MomentsEdit> = z.lazy(() =>
  z.discriminatedUnion('do', [
    z.object({ do: z.literal('add'), moments: z.array(MomentSchema).max(MOMENT_LIMITS.moments) }),
    z.object({ do: z.literal('remove'), ids: z.array(MomentId).max(MOMENT_LIMITS.moments) }),
    z.object({ do: z.literal('change'), changes: z.array(ChangeSchema).max(2 * MOMENT_LIMITS.moments) }),
    z.object({ do: z.literal('dismiss'), suggestions: z.array(DismissedSchema).max(MOMENT_LIMITS.dismissed) }),
    z.object({ do: z.literal('recall'), suggestions: z.array(DismissedSchema).max(MOMENT_LIMITS.dismissed) }),
    z.object({ do: z.literal('crowded-from'), perMinute: z.number().min(1).max(600) }),
    z.object({ do: z.literal('all'), edits: z.array(MomentsEditSchema).max(500) }),
  ]),
) as z.ZodType<MomentsEdit>

/** Edits of one tab, made on a revision. */
export const MomentsChange = z.object({
  revision: z.number().int().nonnegative(),
  edits: z.array(MomentsEditSchema).min(1).max(500),
})
export type MomentsChange = z.infer<typeof MomentsChange>

/** Edits are done, or another tab was faster: then nothing is done, and what stands there now is given. */
export const MomentsChanged = z.discriminatedUnion('outcome', [
  z.object({ outcome: z.literal('saved'), revision: z.number().int() }),
  z.object({ outcome: z.literal('changed-meanwhile'), revision: z.number().int(), document: MomentsDocumentSchema }),
])
export type MomentsChanged = z.infer<typeof MomentsChanged>

export const FrameRateSchema = z.object({
  num: z.number().int().positive().max(1_000_000),
  den: z.number().int().positive().max(1_000_000),
})

/** What the sound track of a cut is. */
export const CutSoundSchema = z.object({
  durationS: z.number().nonnegative(),
  end: z.enum(['whole', 'broke-off', 'stalled']),
  missing: z.array(TimeRangeWire),
  integratedLufs: z.number().nullable(),
  truePeakDbtp: z.number().nullable(),
  /** Ten values a second, one byte each: 0 is silence, else LUFS times 2.5 plus 250. */
  momentaryBase64: z.string(),
  segments: z.array(SegmentWire),
  soundEventsS: z.array(z.number()),
  peaks: z.object({
    sampleRateHz: z.number().positive(),
    lengthFrames: z.number().int().nonnegative(),
    /** Pairs in each level. */
    levels: z.array(z.number().int().nonnegative()),
  }),
})
export type CutSound = z.infer<typeof CutSoundSchema>

/** The most frames that a picture of a cut may have: four hours at 60 a second. */
const FRAMES_MAX = 900_000
const EventSchema = z.object({
  kind: z.enum(PICTURE_EVENT_KINDS),
  timeS: z.number().min(0).max(MOMENT_LIMITS.timeS),
  confidence: z.number().min(0).max(1),
})

/** What the picture of a cut is. */
export const CutPictureSchema = z.object({
  durationS: z.number().nonnegative().max(MOMENT_LIMITS.timeS),
  frameRate: FrameRateSchema,
  /** Frames come unevenly; the rate is their mean. */
  isVariable: z.boolean(),
  frameCount: z.number().int().min(0).max(FRAMES_MAX),
  widthPx: z.number().int().positive().max(20_000),
  heightPx: z.number().int().positive().max(20_000),
  events: z.array(EventSchema).max(200_000),
  /** Small pictures, in order: when each is shown, and its bytes in the strip. */
  strip: z
    .array(
      z.object({
        timeS: z.number().nonnegative(),
        offset: z.number().int().nonnegative(),
        bytes: z.number().int().positive(),
      }),
    )
    .max(2000),
  /** What could not be read, in a sentence; empty when all was. */
  note: z.string().max(300),
})
export type CutPicture = z.infer<typeof CutPictureSchema>

export const CUT_STATES = ['waiting', 'running', 'done', 'failed', 'cancelled'] as const

/** What a new cut did to the moments. */
export const CarriedWire = z.object({
  /** Null where the sound tracks could not be compared. */
  fromCutId: z.number().int().nullable(),
  /** Why nothing was carried over, in a sentence; empty when it was. */
  note: z.string(),
  stayed: z.number().int(),
  carried: z.array(
    z.object({ id: z.string(), what: z.enum(['moved', 'cut-out', 'unsure']), fromS: z.number(), toS: z.number() }),
  ),
})
export type CarriedWire = z.infer<typeof CarriedWire>

/** One version of the rough cut of a video. */
export const Cut = z.object({
  id: z.number().int(),
  fileName: z.string(),
  sizeBytes: z.number(),
  mime: z.string(),
  broughtAt: z.iso.datetime(),
  state: z.enum(CUT_STATES),
  /** Why it failed, in a sentence. */
  message: z.string(),
  jobId: z.number().int().nullable(),
  sound: CutSoundSchema.nullable(),
  picture: CutPictureSchema.nullable(),
  /** The picture is there and could not be read here: the browser may. */
  wantsPicture: z.boolean(),
  carried: CarriedWire.nullable(),
})
export type Cut = z.infer<typeof Cut>

/** Versions of a cut as the list of them shows. */
export const CutVersion = Cut.omit({ sound: true, picture: true, carried: true, wantsPicture: true })
export type CutVersion = z.infer<typeof CutVersion>

export const VideoMoments = z.object({
  revision: z.number().int(),
  document: MomentsDocumentSchema,
  /** The cut that the times are of; null while there is none that was read. */
  cut: Cut.nullable(),
  /** All versions that were not removed, the newest first. */
  versions: z.array(CutVersion),
  /** Titles of the sounds that are named in the document. */
  soundTitles: z.record(z.string(), z.string()),
})
export type VideoMoments = z.infer<typeof VideoMoments>

export const SuggestionWire = z.object({
  kind: z.enum(SUGGESTION_KINDS),
  atS: z.number(),
  endS: z.number().nullable(),
  words: z.string(),
  momentKind: z.enum(MOMENT_KINDS),
  reason: z.string(),
  confidence: z.number(),
  soundId: z.number().int().nullable(),
})
export const SuggestionList = z.object({
  suggestions: z.array(SuggestionWire),
  /** Caption file that words come from, or null. */
  captionFile: z.string().nullable(),
  /** Cues that begin behind the end of the cut. */
  cuesBeyondEnd: z.number().int(),
})
export type SuggestionList = z.infer<typeof SuggestionList>

export const CutBrought = z.object({ cutId: z.number().int(), jobId: z.number().int().nullable() })

export const ReactionSchema = z.object({
  setS: z.number().min(0).max(MAX_REACTION_S).nullable(),
  latenessS: z.array(z.number().min(-5).max(5)).max(50),
}) satisfies z.ZodType<Reaction>

/** How far a video is in its first steps. */
export const VideoStepFacts = z.object({
  momentCount: z.number().int(),
  /** Of them, with a sound or silent on purpose. */
  settledCount: z.number().int(),
  placedCount: z.number().int(),
  hasCut: z.boolean(),
})
export type VideoStepFacts = z.infer<typeof VideoStepFacts>

/** What a list of videos shows of each besides its state. */
export const VideoOverview = VideoStepFacts.extend({
  id: z.number().int(),
  /** Of the finished film, else of the cut; null before there is one. */
  lengthS: z.number().nullable(),
  /** Whether the cut has pictures. */
  hasCutPicture: z.boolean(),
  /** The newest finished film that has a picture. */
  filmId: z.number().int().nullable(),
})
export type VideoOverview = z.infer<typeof VideoOverview>
export const VideoOverviews = z.object({ videos: z.array(VideoOverview) })
