import { z } from 'zod'

/** How sure a find is, in words: at least 99.5 %, at least 90 %, at least half. */
export const CertaintyWire = z.enum(['certain', 'very likely', 'possible'])
export type CertaintyWire = z.infer<typeof CertaintyWire>

/** What was done to a sound before it was laid in. */
export const TreatmentWire = z.enum(['as-is', 'muffled', 'room', 'speed', 'speed-pitch-kept'])
export type TreatmentWire = z.infer<typeof TreatmentWire>

/** What `thud check --json` writes. Places are in the file, parts are in the sound; all in seconds. */
export const CheckReport = z.object({
  media: z.string(),
  durationS: z.number(),
  loudness: z.object({ integratedLufs: z.number().nullable(), truePeakDbtp: z.number().nullable() }),
  detections: z.array(
    z.object({
      file: z.string(),
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
      /** How far the find stands out of chance, standard deviations. */
      score: z.number(),
      /** Other sounds that are the same recording, or answered alike here. */
      alternatives: z.array(z.string()),
    }),
  ),
  /** Sounds that are the same recording. */
  groups: z.array(z.array(z.string())),
  timing: z.object({ decodeS: z.number(), indexS: z.number(), searchS: z.number() }),
})
export type CheckReport = z.infer<typeof CheckReport>
