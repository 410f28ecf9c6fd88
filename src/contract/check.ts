import { z } from 'zod'
import { ReasonWire } from './sound'

export const VerdictWire = z.enum(['clear', 'owes-credit', 'no-papers', 'not-allowed'])
export type VerdictWire = z.infer<typeof VerdictWire>

export const DetectionWire = z.object({
  id: z.number().int(),
  soundId: z.number().int(),
  startS: z.number(),
  endS: z.number(),
  fromS: z.number(),
  toS: z.number(),
  gainDb: z.number(),
  confidence: z.number().min(0).max(1),
})
export type DetectionWire = z.infer<typeof DetectionWire>

/** One heard sound with its verdict. */
export const FindingWire = z.object({
  soundId: z.number().int(),
  title: z.string(),
  maker: z.string(),
  sourceName: z.string(),
  licence: z.string(),
  verdict: VerdictWire,
  /** The deciding sentence first. */
  reasons: z.array(ReasonWire),
  /** One sentence that sums the verdict up. */
  sentence: z.string(),
  settlements: z.array(z.string()),
  creditLine: z.string().nullable(),
  detections: z.array(DetectionWire),
})
export type FindingWire = z.infer<typeof FindingWire>

export const TrackMap = z.object({
  durationS: z.number(),
  /** Highest and lowest sample of each column, -127 to 127, base64 of signed bytes, low then high. */
  waveformBase64: z.string(),
  columns: z.number().int(),
  /** Momentary loudness every 100 ms, LUFS, from 0.4 s on. */
  momentaryLufs: z.array(z.number()),
  integratedLufs: z.number().nullable(),
  truePeakDbtp: z.number().nullable(),
})
export type TrackMap = z.infer<typeof TrackMap>

export const CheckDetail = z.object({
  id: z.number().int(),
  videoId: z.number().int(),
  state: z.enum(['waiting', 'running', 'done', 'failed', 'cancelled']),
  message: z.string(),
  jobId: z.number().int().nullable(),
  fileName: z.string(),
  exportId: z.number().int(),
  hasPicture: z.boolean(),
  createdAt: z.iso.datetime(),
  finishedAt: z.iso.datetime().nullable(),
  track: TrackMap.nullable(),
  findings: z.array(FindingWire),
  /** Sounds that were listened for, and sounds that could not be. */
  listenedFor: z.number().int(),
  /** Sounds that can be listened for now and were not there yet. */
  addedSince: z.number().int(),
  notExamined: z.array(z.object({ soundId: z.number().int(), title: z.string(), reason: z.string() })),
  credits: z.string(),
})
export type CheckDetail = z.infer<typeof CheckDetail>

export const UploadDone = z.object({ exportId: z.number().int(), checkId: z.number().int(), jobId: z.number().int() })
