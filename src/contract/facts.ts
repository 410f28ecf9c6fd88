import { z } from 'zod'
import type { CheckFacts } from '../core/clearance'
import { SegmentWire, SoundKindWire, TreatmentWire, UnexplainedWire } from './listening'

const Sha256 = z.string().regex(/^[0-9a-f]{64}$/)

export const TimeRangeWire = z.object({ startS: z.number(), endS: z.number() })
export type TimeRangeWire = z.infer<typeof TimeRangeWire>

const SecondsOf = z.object({
  speech: z.number(),
  music: z.number(),
  noise: z.number(),
  silence: z.number(),
  heard: z.number(),
  unexplained: z.number(),
})

const TrackFactsSchema = z.object({
  index: z.number().int().min(0),
  codec: z.string(),
  language: z.string().nullable(),
  channelCount: z.number().int(),
  channelLayout: z.string(),
  statedDurationS: z.number().nullable(),
  notListenedReason: z.string().nullable(),
  durationS: z.number(),
  end: z.enum(['whole', 'broke-off', 'stalled']),
  missing: z.array(TimeRangeWire),
  stages: z.array(
    z.object({
      name: z.enum(['shortlist', 'catalogue', 'looked-up', 'side', 'again']),
      soundCount: z.number().int(),
      threshold: z.number(),
      otherSpeeds: z.boolean(),
      isComplete: z.boolean(),
    }),
  ),
  decoys: z.object({ listenedFor: z.number().int(), heard: z.number().int() }),
  sensitivity: z.array(z.tuple([z.number().int(), z.number().nullable(), SoundKindWire.nullish()])),
  segments: z.array(SegmentWire),
  unexplained: z.array(UnexplainedWire),
  /** Facts from before it was looked at have none. */
  beyondHeard: z.array(TimeRangeWire).optional(),
  opposed: z.array(TimeRangeWire).optional(),
  partlyOpposed: z.array(TimeRangeWire).optional(),
  secondsOf: SecondsOf,
  explainedFraction: z.number(),
  loudness: z
    .object({
      integratedLufs: z.number().nullable(),
      truePeakDbtp: z.number().nullable(),
      rangeLu: z.number().nullable(),
      shortTermMaxLufs: z.number().nullable(),
    })
    .nullable(),
})

/** All that one finished check examined and found, as it is stored and exported. */
export const CheckFactsSchema = z.object({
  version: z.literal(1),
  finishedAt: z.iso.datetime(),
  file: z.object({ sha256: Sha256, sizeBytes: z.number().int(), hasPicture: z.boolean() }),
  decoder: z.object({ name: z.string(), version: z.string() }),
  engine: z.object({ version: z.string(), featuresVersion: z.number().int() }),
  tracks: z.array(TrackFactsSchema),
  reference: z.object({
    listenedFor: z.array(z.tuple([z.number().int(), Sha256])),
    notListenedFor: z.array(z.object({ soundId: z.number().int(), reason: z.string() })),
    claimedIds: z.array(z.number().int()),
    upToChange: z.number().int(),
  }),
  detections: z.array(
    z.object({
      trackIndex: z.number().int(),
      soundId: z.number().int(),
      audioSha256: Sha256,
      startS: z.number(),
      endS: z.number(),
      fromS: z.number(),
      toS: z.number(),
      gainDb: z.number(),
      confidence: z.number(),
      speed: z.number(),
      treatment: TreatmentWire,
      cutoffHz: z.number().nullable(),
      balance: z.number(),
      fadeInS: z.number(),
      fadeOutS: z.number(),
      alternativeIds: z.array(z.number().int()),
      inSide: z.literal(true).optional(),
    }),
  ),
  carriesOn: Sha256.nullable(),
  planRevision: z.number().int().nullable().optional(),
  placed: z
    .array(
      z.object({
        soundId: z.number().int(),
        audioSha256: Sha256.nullable(),
        bedId: z.number().int().nullable(),
        startS: z.number(),
        endS: z.number(),
      }),
    )
    .optional(),
}) satisfies z.ZodType<CheckFacts>
