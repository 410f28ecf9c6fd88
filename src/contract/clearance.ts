import { z } from 'zod'
import { ANSWER_KINDS, POINT_KINDS, type VideoState } from '../core/clearance'
import { inputs as messages } from '../messages/server/inputs'
import { TimeRangeWire } from './facts'

const Count = z.number().int().nonnegative()

/** The state of a video: the one value that every place shows. */
export const VideoStateWire = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('not-checked') }),
  z.object({ kind: z.literal('checking') }),
  z.object({ kind: z.literal('partly-examined'), points: Count, credits: Count }),
  z.object({ kind: z.literal('points-open'), points: Count, credits: Count }),
  z.object({
    kind: z.literal('ready'),
    credits: Count,
    accepted: z.array(z.object({ by: z.string(), points: Count })).readonly(),
  }),
]) satisfies z.ZodType<VideoState>
export type VideoStateWire = z.infer<typeof VideoStateWire>

export const AnswerWire = z.object({
  id: z.number().int(),
  kind: z.enum(ANSWER_KINDS),
  fromSoundId: z.number().int().nullable(),
  fromTitle: z.string().nullable(),
  reason: z.string(),
  by: z.string(),
  at: z.iso.datetime(),
})

/** Something that is not examined, not explained or cannot be told. */
export const PointWire = z.object({
  kind: z.enum(POINT_KINDS),
  trackIndex: z.number().int().nullable(),
  places: z.array(TimeRangeWire),
  soundIds: z.array(z.number().int()),
  sentence: z.string(),
  answerKinds: z.array(z.enum(ANSWER_KINDS)),
  answer: AnswerWire.nullable(),
  isOpen: z.boolean(),
  /** Whether it means that a part of the file was not examined. */
  isUnexamined: z.boolean(),
  /** Names of the sounds that it is about, where there are few. */
  soundTitles: z.array(z.object({ soundId: z.number().int(), title: z.string(), sourceName: z.string() })),
})
export type PointWire = z.infer<typeof PointWire>

export const ConflictWire = z.object({ soundIds: z.array(z.number().int()), sentence: z.string() })

/** Settles a point: with whose word, and why. */
export const AnswerInput = z
  .object({
    pointKind: z.enum(POINT_KINDS),
    trackIndex: z.number().int().min(0).max(500).nullable(),
    places: z.array(TimeRangeWire).max(5000),
    soundIds: z.array(z.number().int()).max(100_000),
    kind: z.enum(ANSWER_KINDS),
    fromSoundId: z.number().int().nullable().default(null),
    reason: z.string().trim().max(1000, messages.keepReasonUnder1000).default(''),
    by: z.string().trim().min(1, messages.writeYourName).max(120, messages.keepNameUnder120Characters),
  })
  .refine(({ kind, reason }) => kind !== 'accepted' || reason.length >= 3, {
    path: ['reason'],
    message: messages.writeWhyItIsAccepted,
  })
  .refine(({ kind, fromSoundId }) => kind !== 'from' || fromSoundId !== null, {
    path: ['fromSoundId'],
    message: messages.chooseSoundThatFrom,
  })
export type AnswerInput = z.infer<typeof AnswerInput>

/** Who said that the voices in all videos are the channel's own. */
export const OwnSpeech = z.object({ by: z.string(), at: z.iso.datetime() })
export type OwnSpeech = z.infer<typeof OwnSpeech>
