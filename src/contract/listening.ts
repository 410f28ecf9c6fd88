import { z } from 'zod'

/** How sure a find is, in words: at least 99.5 %, at least 90 %, at least half. */
export const CertaintyWire = z.enum(['certain', 'very likely', 'possible'])
export type CertaintyWire = z.infer<typeof CertaintyWire>

/** What was done to a sound before it was placed in the mix. */
export const TreatmentWire = z.enum(['as-is', 'muffled', 'room', 'speed', 'speed-pitch-kept'])
export type TreatmentWire = z.infer<typeof TreatmentWire>

/** What a sound is to hearing. */
export const SoundKindWire = z.enum(['click', 'tone', 'noise'])
export type SoundKindWire = z.infer<typeof SoundKindWire>

/** A stretch of a track, apart from the sounds that were heard. */
export const SegmentWire = z.object({
  kind: z.enum(['speech', 'music', 'noise', 'silence']),
  startS: z.number(),
  endS: z.number(),
})
export type SegmentWire = z.infer<typeof SegmentWire>

/** Something that stands out of a track and is none of the sounds that were listened for. */
export const UnexplainedWire = z.object({
  startS: z.number(),
  endS: z.number(),
  lowHz: z.number(),
  highHz: z.number(),
  /** dB relative to full scale. */
  levelDb: z.number(),
})
export type UnexplainedWire = z.infer<typeof UnexplainedWire>

/** What `thud check --json` writes. Places are in the file, parts are in the sound; all in seconds. */
export const CheckReport = z.object({
  media: z.string(),
  /** "partly" when a track was not listened to, or a part of one could not be decoded or cancels itself out. */
  examined: z.enum(['whole', 'partly']),
  /** Every audio track of the file. Loudness, segments and unexplained events below are of the first that was listened to. */
  tracks: z.array(
    z.object({
      index: z.number().int(),
      codec: z.string(),
      language: z.string().nullable(),
      channelLayout: z.string(),
      /** Why it was not listened to; null when it was. */
      notListenedReason: z.string().nullable(),
      end: z.enum(['whole', 'broke-off', 'stalled']).nullable(),
      missing: z.array(z.object({ startS: z.number(), endS: z.number() })),
      /** Where left and right cancel each other out, and what is there was not recognised. */
      opposed: z.array(z.object({ startS: z.number(), endS: z.number() })),
      /** Where they do in part of the spectrum, under something else, likewise. */
      partlyOpposed: z.array(z.object({ startS: z.number(), endS: z.number() })),
      unexplained: z.array(UnexplainedWire),
      segments: z.array(SegmentWire),
    }),
  ),
  durationS: z.number(),
  loudness: z.object({
    integratedLufs: z.number().nullable(),
    truePeakDbtp: z.number().nullable(),
    rangeLu: z.number().nullable(),
    shortTermMaxLufs: z.number().nullable(),
  }),
  detections: z.array(
    z.object({
      file: z.string(),
      /** Audio track in which it is heard, 0 for the first. */
      track: z.number().int(),
      startS: z.number(),
      endS: z.number(),
      fromS: z.number(),
      toS: z.number(),
      speed: z.number(),
      gainDb: z.number(),
      confidence: z.number(),
      certainty: CertaintyWire,
      treatment: TreatmentWire,
      cutoffHz: z.number().nullable(),
      /** -1 left only, 0 as in the file, 1 right only. */
      balance: z.number(),
      fadeInS: z.number(),
      fadeOutS: z.number(),
      /** Heard in the side, half the difference of left and right. */
      inSide: z.literal(true).optional(),
      /** How far the find stands out of chance, standard deviations. */
      score: z.number(),
      /** Other sounds that are the same recording, or answered alike here. */
      alternatives: z.array(z.string()),
    }),
  ),
  /** Sounds that are the same recording. */
  groups: z.array(z.array(z.string())),
  /** What stands out of the track and is none of the sounds. */
  unexplained: z.array(UnexplainedWire),
  segments: z.array(SegmentWire),
  /** Share of the track that nothing unexplained stands out of. */
  explainedFraction: z.number(),
  /** For each sound that was not heard, the level relative to its file from which it would have been, null for none; tones and clicks are missed more often. */
  sensitivity: z.array(z.object({ file: z.string(), fromDb: z.number().nullable(), kind: SoundKindWire.nullable() })),
  /** Sounds that cannot be there were listened for too; how many answered tells how far the finds can be trusted. */
  decoys: z.object({ listenedFor: z.number().int(), heard: z.number().int() }),
  timing: z.object({ decodeS: z.number(), indexS: z.number(), searchS: z.number() }),
})
export type CheckReport = z.infer<typeof CheckReport>
