import { z } from 'zod'

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
    }),
  ),
  timing: z.object({ decodeS: z.number(), indexS: z.number(), searchS: z.number() }),
})
export type CheckReport = z.infer<typeof CheckReport>
