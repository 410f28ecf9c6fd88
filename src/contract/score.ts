import { z } from 'zod'
import { FIT_LIMITS } from '../core/lengths'
import {
  FADE_CURVES,
  LAYER_ROLES,
  type Layer,
  type Placement,
  SCORE_LIMITS,
  type Score,
  type ScoreEdit,
  TREATMENT_KINDS,
} from '../core/score'
import { inputs as messages } from '../messages/server/inputs'
import { FitWire } from './sound'

/** A list of another program is at most so long, characters. */
export const SCORE_IMPORT_MAX_CHARS = 8_000_000

const Id = z.string().regex(/^[\w-]{1,64}$/)
const Time = z.number().min(0, messages.aTimeIsNotNegative).max(SCORE_LIMITS.timeS)
const Gain = z.number().min(SCORE_LIMITS.gainDb.least).max(SCORE_LIMITS.gainDb.most)
const SoundId = z.number().int().positive()

const AudioSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('copy'), sha256: z.string().regex(/^[0-9a-f]{64}$/), soundId: SoundId.nullable() }),
  z.object({ kind: z.literal('preview'), soundId: SoundId }),
])
const TargetSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('moment'), momentId: Id }),
  z.object({ kind: z.literal('shot-change'), atS: Time }),
  z.object({ kind: z.literal('time'), atS: Time }),
])
const LineSchema = z.array(z.object({ atS: Time, value: z.number() })).max(SCORE_LIMITS.breakPoints)
const FadeSchema = z.object({ lengthS: Time, curve: z.enum(FADE_CURVES), isAutomatic: z.boolean() })
const TreatmentsSchema = z
  .array(z.object({ kind: z.enum(TREATMENT_KINDS), amountFraction: z.number().min(0).max(1) }))
  .max(SCORE_LIMITS.treatments)
const PieceSchema = z.object({ fromS: Time, toS: Time, times: z.number().int().positive(), seamS: Time })

const BedSchema = z.object({
  id: Id,
  kind: z.enum(['stems', 'parts']),
  soundId: SoundId,
  joins: z.enum(['none', 'start', 'end', 'both']),
})

const PlacementValuesShape = {
  layerId: Id,
  audio: AudioSchema,
  bed: BedSchema.nullable(),
  fromS: Time,
  toS: Time,
  assembly: z.array(PieceSchema).max(SCORE_LIMITS.pieces).nullable(),
  startS: Time,
  hitS: Time.nullable(),
  hitRepeat: z.number().int().min(0).max(SCORE_LIMITS.repeats),
  target: TargetSchema.nullable(),
  gainDb: Gain,
  gainPoints: LineSchema,
  pan: z.number().min(-1).max(1),
  panPoints: LineSchema,
  fadeIn: FadeSchema.nullable(),
  fadeOut: FadeSchema.nullable(),
  rate: z.number().min(SCORE_LIMITS.rate.least).max(SCORE_LIMITS.rate.most),
  keepsPitch: z.boolean(),
  isReversed: z.boolean(),
  treatments: TreatmentsSchema,
  treatmentChange: z.object({ to: TreatmentsSchema, fromS: Time, toS: Time }).nullable(),
  isMuted: z.boolean(),
}
export const PlacementSchema = z.object({
  id: Id,
  ...PlacementValuesShape,
  // What was saved before there was a choice means the first.
  hitRepeat: PlacementValuesShape.hitRepeat.default(0),
  // And stands alone.
  bed: PlacementValuesShape.bed.default(null),
})

const DuckSchema = z.object({
  depthDb: z.number().min(SCORE_LIMITS.duckDb.least).max(SCORE_LIMITS.duckDb.most),
  attackS: z.number().positive().max(10),
  holdS: z.number().min(0).max(10),
  releaseS: z.number().positive().max(10),
  adjusted: z.array(z.object({ atS: Time, depthDb: z.number() })).max(SCORE_LIMITS.adjustedDips),
})
const LayerValuesShape = {
  name: z.string().min(1).max(SCORE_LIMITS.nameLength),
  role: z.enum(LAYER_ROLES),
  levelDb: Gain,
  isMuted: z.boolean(),
  isSolo: z.boolean(),
  isFolded: z.boolean(),
  duck: DuckSchema.nullable(),
}
const LayerSchema = z.object({ id: Id, ...LayerValuesShape })
const DeliverySchema = z.object({ loudnessLufs: z.number().nullable(), ceilingDbtp: z.number() })

export const ScoreSchema: z.ZodType<Score> = z.object({
  version: z.literal(1),
  layers: z.array(LayerSchema).max(SCORE_LIMITS.layers),
  placements: z.array(PlacementSchema).max(SCORE_LIMITS.placements),
  delivery: DeliverySchema,
})

export const ScoreEditSchema: z.ZodType<ScoreEdit> = z.lazy(() =>
  z.discriminatedUnion('do', [
    z.object({ do: z.literal('add-layer'), layer: LayerSchema, atIndex: z.number().int().min(0) }),
    z.object({ do: z.literal('remove-layer'), id: Id }),
    z.object({ do: z.literal('move-layer'), id: Id, toIndex: z.number().int().min(0) }),
    z.object({
      do: z.literal('change-layers'),
      changes: z.array(z.object({ id: Id, to: z.object(LayerValuesShape).partial().strict() })).max(100),
    }),
    z.object({ do: z.literal('add'), placements: z.array(PlacementSchema).max(SCORE_LIMITS.placements) }),
    z.object({ do: z.literal('remove'), ids: z.array(Id).max(SCORE_LIMITS.placements) }),
    z.object({
      do: z.literal('change'),
      changes: z
        .array(z.object({ id: Id, to: z.object(PlacementValuesShape).partial().strict() }))
        .max(2 * SCORE_LIMITS.placements),
    }),
    z.object({ do: z.literal('deliver'), delivery: DeliverySchema }),
    z.object({ do: z.literal('all'), edits: z.array(ScoreEditSchema).max(500) }),
  ]),
) as z.ZodType<ScoreEdit>

/** A placed sound whose loudness is asked for. */
export const LoudnessRequest = z.object({ placement: PlacementSchema })
export type LoudnessRequest = z.infer<typeof LoudnessRequest>

/** Loudness over the part that is heard, at a level of 0 dB, LUFS; null for silence. */
export const LoudnessAnswer = z.object({ lufs: z.number().nullable() })
export type LoudnessAnswer = z.infer<typeof LoudnessAnswer>

/** How a placed sound and the voice of the cut cover each other. */
export const MaskingWire = z.object({
  /** Of the placement. */
  id: Id,
  /** How much of what is said meanwhile is lost, 0 to 1; null where nobody speaks. */
  speechLostFraction: z.number().nullable(),
  /** Where what is said is hardly understood, in the video. */
  speechLost: z.array(z.object({ startS: z.number(), endS: z.number() })),
  /** How much of the time that it lasts nothing is heard of it, 0 to 1. */
  soundLostFraction: z.number().nullable(),
})
export type MaskingWire = z.infer<typeof MaskingWire>

/** What covers what in a video, of the revision that is saved. Placements that nobody speaks over are left out. */
export const MaskingAnswer = z.object({
  revision: z.number().int(),
  /** Whether the cut's own sound is heard at all. */
  isVoiceHeard: z.boolean(),
  places: z.array(MaskingWire),
  /** Placements whose audio is not here. */
  notHere: z.array(Id),
  /** Long placements of which only the first part under speech was looked at. */
  cutShort: z.array(Id),
})
export type MaskingAnswer = z.infer<typeof MaskingAnswer>

/** A placed sound that is to have another length. */
export const LengthRequest = z.object({
  audio: AudioSchema,
  fromS: Time,
  toS: Time,
  /** Before its speed, s. */
  wantedS: z.number().min(FIT_LIMITS.shortestS).max(FIT_LIMITS.longestS),
})
export type LengthRequest = z.infer<typeof LengthRequest>

/** How it is brought to it; null pieces where there is no room for any jump. */
export const LengthAnswer = z.object({
  fitted: z
    .object({
      pieces: z.array(PieceSchema),
      lengthS: z.number(),
      /** How well the worst seam is hidden, 0 to 1. */
      quality: z.number(),
      isGood: z.boolean(),
      seams: z.number().int(),
      levelJumpDb: z.number(),
      soundJumpDb: z.number(),
    })
    .nullable(),
  /** Length of a bar that was kept to, s; null for what is no music or has no known tempo. */
  barS: z.number().nullable(),
})
export type LengthAnswer = z.infer<typeof LengthAnswer>

/** Edits of one tab, made on a revision. */
export const ScoreChange = z.object({
  revision: z.number().int().nonnegative(),
  edits: z.array(ScoreEditSchema).min(1).max(500),
})
export type ScoreChange = z.infer<typeof ScoreChange>

/** Edits are done, or another tab was faster: then nothing is done, and what stands there now is given. */
export const ScoreChanged = z.discriminatedUnion('outcome', [
  z.object({ outcome: z.literal('saved'), revision: z.number().int() }),
  z.object({ outcome: z.literal('changed-meanwhile'), revision: z.number().int(), document: ScoreSchema }),
])
export type ScoreChanged = z.infer<typeof ScoreChanged>

/** What a mix came to when it was written. */
export const WrittenMix = z.object({
  id: z.number().int(),
  /** Revision of the score that it is of. */
  revision: z.number().int(),
  state: z.enum(['waiting', 'running', 'done', 'failed', 'cancelled']),
  message: z.string(),
  jobId: z.number().int().nullable(),
  createdAt: z.iso.datetime(),
  lengthS: z.number().nullable(),
  integratedLufs: z.number().nullable(),
  truePeakDbtp: z.number().nullable(),
  mostLimitedDb: z.number().nullable(),
  /** Files to fetch: the mix first, then a stem for each layer where they were asked for. */
  files: z.array(z.object({ name: z.string(), sizeBytes: z.number().int() })),
  /** Placements that were silent since their audio is not here, by title. */
  silent: z.array(z.string()),
})
export type WrittenMix = z.infer<typeof WrittenMix>

export const MixOptions = z.object({
  withStems: z.boolean(),
  format: z.enum(['wav', 'flac']),
  /** Whether the cut's picture is written too, with the mix as its sound track. */
  withVideo: z.boolean(),
})
export type MixOptions = z.infer<typeof MixOptions>
export const MixStarted = z.object({ mix: WrittenMix })

/** What is placed in a video. */
export const VideoScore = z.object({
  revision: z.number().int(),
  document: ScoreSchema,
  mixes: z.array(WrittenMix),
})
export type VideoScore = z.infer<typeof VideoScore>

/** A sound that is placed, weighed for the video that it is placed in. */
export const UsedSoundWire = z.object({
  key: z.string(),
  soundId: SoundId.nullable(),
  title: z.string(),
  maker: z.string(),
  sourceName: z.string(),
  kind: z.enum(['effect', 'music']).nullable(),
  licence: z.string(),
  fileName: z.string(),
  /** Whether its file is here, or how it would be had. */
  how: z.enum(['here', 'free', 'buy', 'not']),
  /** What it would cost, and for which tier; null for nothing. */
  price: z.string().nullable(),
  tierTitle: z.string().nullable(),
  /** By the papers on file, or by what a download today would give; null where it cannot be weighed. */
  fit: FitWire.nullable(),
  onFile: z.boolean(),
  /** The line that its papers ask for. */
  creditLine: z.string().nullable(),
  /** What is open of it, as a sentence; null where there is ground for its use here. */
  open: z.string().nullable(),
})
export type UsedSoundWire = z.infer<typeof UsedSoundWire>

/** All sounds of a score with what they still cost and what is open. */
export const VideoUsed = z.object({
  revision: z.number().int(),
  sounds: z.array(UsedSoundWire),
  /** What is missing would cost so much in all. */
  total: z.string(),
})
export type VideoUsed = z.infer<typeof VideoUsed>

/** A list of another program, read: what of it can be placed. */
export const ScoreImport = z.object({ text: z.string().max(SCORE_IMPORT_MAX_CHARS) })
export type ScoreImport = z.infer<typeof ScoreImport>

export const ScoreImported = z.object({
  layers: z.array(LayerSchema as z.ZodType<Layer>),
  placements: z.array(PlacementSchema as z.ZodType<Placement>),
  /** How each was matched, by the id of its placement. */
  matched: z.record(z.string(), z.enum(['own', 'hash', 'name'])),
  /** Clips whose file is not known here. */
  unmatched: z.array(z.object({ name: z.string(), startS: z.number() })),
  /** What of the list means nothing here, as sentences. */
  leftOut: z.array(z.string()),
})
export type ScoreImported = z.infer<typeof ScoreImported>

/** A place of the newest check, with what would be placed to sound the same. */
export const HeardPlaceWire = z.object({
  soundId: SoundId,
  title: z.string(),
  audioSha256: z.string(),
  /** Whether that file is a copy, and not a preview. */
  isCopy: z.boolean(),
  startS: z.number(),
  endS: z.number(),
  /** Part of the sound that was heard, s. */
  fromS: z.number(),
  toS: z.number(),
  speed: z.number(),
  gainDb: z.number(),
  /** Whether the sound has not died where that part begins and ends. */
  isLoudAtStart: z.boolean(),
  isLoudAtEnd: z.boolean(),
})
export type HeardPlaceWire = z.infer<typeof HeardPlaceWire>

/** What is placed held against what was heard in the newest finished video. */
export const PlannedHeard = z.object({
  /** Null where nothing was checked yet. */
  checkId: z.number().int().nullable(),
  /** Whether what is placed is what it was when the file was checked; null where the check does not tell. */
  isSamePlan: z.boolean().nullable(),
  both: z.array(z.object({ placementId: Id, title: z.string(), plannedS: z.number(), laterS: z.number() })),
  heardOnly: z.array(HeardPlaceWire),
  plannedOnly: z.array(z.object({ placementId: Id, title: z.string(), plannedS: z.number() })),
  mutedCount: z.number().int(),
})
export type PlannedHeard = z.infer<typeof PlannedHeard>
