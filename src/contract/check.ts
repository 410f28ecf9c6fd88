import { z } from 'zod'
import { ConflictWire, OwnSpeech, PointWire, VideoStateWire } from './clearance'
import { TimeRangeWire } from './facts'
import { CertaintyWire, SegmentWire, SoundKindWire, TreatmentWire, UnexplainedWire } from './listening'
import { DeclaredWire } from './papers'
import { ReasonWire } from './sound'

export const VerdictWire = z.enum(['clear', 'owes-credit', 'no-papers', 'not-allowed'])
export type VerdictWire = z.infer<typeof VerdictWire>

export const DetectionWire = z.object({
  id: z.number().int(),
  trackIndex: z.number().int(),
  soundId: z.number().int(),
  startS: z.number(),
  endS: z.number(),
  fromS: z.number(),
  toS: z.number(),
  gainDb: z.number(),
  confidence: z.number().min(0).max(1),
  certainty: CertaintyWire,
  speed: z.number(),
  treatment: TreatmentWire,
  cutoffHz: z.number().nullable(),
  /** -1 left only, 0 as in the file, 1 right only. */
  balance: z.number(),
  fadeInS: z.number(),
  fadeOutS: z.number(),
  /** Heard where left and right cancel each other out. */
  inSide: z.literal(true).optional(),
})
export type DetectionWire = z.infer<typeof DetectionWire>

/** A sound that is the same recording as a heard one, or answered alike at one of its places. */
export const AlternativeWire = z.object({
  soundId: z.number().int(),
  title: z.string(),
  sourceName: z.string(),
  sameRecording: z.boolean(),
})
export type AlternativeWire = z.infer<typeof AlternativeWire>

/** A sound that holds a heard one, or lies in it: another recording, whose papers do not count here. */
export const RelativeWire = z.object({
  soundId: z.number().int(),
  title: z.string(),
  sourceName: z.string(),
  relation: z.enum(['holds-it', 'lies-in-it']),
})
export type RelativeWire = z.infer<typeof RelativeWire>

/** One heard sound with its verdict. */
export const FindingWire = z.object({
  soundId: z.number().int(),
  title: z.string(),
  maker: z.string(),
  sourceName: z.string(),
  licence: z.string(),
  /** Sold by the sound, in tiers. */
  sold: z.boolean(),
  verdict: VerdictWire,
  /** The deciding sentence first. */
  reasons: z.array(ReasonWire),
  /** One sentence that sums the verdict up. */
  sentence: z.string(),
  settlements: z.array(z.string()),
  /** The papers that it rests on; null while none permit it. */
  ground: z
    .object({
      papersId: z.number().int(),
      /** Sound that the papers are of. */
      title: z.string(),
      termsSha256: z.string(),
      quotes: z.array(z.string()),
      /** For papers of another sound that is the same recording: why they hold. */
      why: z.string().nullable(),
      /** Whose word they rest on; null for papers that a library gave. */
      declared: DeclaredWire.nullable(),
    })
    .nullable(),
  creditLine: z.string().nullable(),
  detections: z.array(DetectionWire),
  alternatives: z.array(AlternativeWire),
  relatives: z.array(RelativeWire),
  /** Titles of its stems that are heard in it. */
  stems: z.array(z.string()),
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
  loudnessRangeLu: z.number().nullable(),
  shortTermMaxLufs: z.number().nullable(),
})
export type TrackMap = z.infer<typeof TrackMap>

/** What a track is made of beside the sounds that were heard. */
export const TrackBreakdownWire = z.object({
  segments: z.array(SegmentWire),
  unexplained: z.array(UnexplainedWire),
  secondsOf: z.object({
    speech: z.number(),
    music: z.number(),
    noise: z.number(),
    silence: z.number(),
    heard: z.number(),
    unexplained: z.number(),
  }),
  explainedFraction: z.number(),
})
export type TrackBreakdownWire = z.infer<typeof TrackBreakdownWire>

/** A sound that was not heard, and the level relative to its file from which it would have been; null for none. */
export const SensitivityWire = z.object({
  soundId: z.number().int(),
  title: z.string(),
  fromDb: z.number().nullable(),
  /** Null where an older check does not say. */
  kind: SoundKindWire.nullable(),
})
export type SensitivityWire = z.infer<typeof SensitivityWire>

/** One audio track of a checked file. */
export const CheckedTrackWire = z.object({
  index: z.number().int(),
  /** "The sound track", "Track 2 (deu, 5.1)". */
  name: z.string(),
  codec: z.string(),
  durationS: z.number(),
  notListenedReason: z.string().nullable(),
  missing: z.array(TimeRangeWire),
  end: z.enum(['whole', 'broke-off', 'stalled']),
  map: TrackMap.nullable(),
  breakdown: TrackBreakdownWire,
  sensitivity: z.array(SensitivityWire),
  /** Sounds that cannot be there were listened for too; how many answered tells how far the findings can be trusted. */
  decoys: z.object({ listenedFor: z.number().int(), heard: z.number().int() }),
  /** How many sounds were searched for at other speeds in full, were looked up at them, and were not. */
  otherSpeeds: z.object({
    inFull: z.number().int(),
    lookedUp: z.number().int(),
    not: z.number().int(),
  }),
})
export type CheckedTrackWire = z.infer<typeof CheckedTrackWire>

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
  /** SHA-256 of the facts that all of this rests on; null while there are none. */
  factsSha256: z.string().nullable(),
  /** What the check comes to for this video today. */
  videoState: VideoStateWire,
  tracks: z.array(CheckedTrackWire),
  findings: z.array(FindingWire),
  points: z.array(PointWire),
  conflicts: z.array(ConflictWire),
  /** Who said that the voices are the channel's own; null while nobody did. */
  ownSpeech: OwnSpeech.nullable(),
  /** Sounds that were listened for, and sounds that could not be. */
  listenedFor: z.number().int(),
  notExamined: z.array(z.object({ soundId: z.number().int(), title: z.string(), reason: z.string() })),
  /** Names of libraries that are searched and not mirrored: only what was seen of them can be listened for. */
  searchedLive: z.array(z.string()),
  /** Libraries that cannot be synced, and the day since which what they added is not known. */
  notSynced: z.array(z.object({ name: z.string(), since: z.string() })),
  credits: z.string(),
})
export type CheckDetail = z.infer<typeof CheckDetail>

export const UploadDone = z.object({ exportId: z.number().int(), checkId: z.number().int(), jobId: z.number().int() })
