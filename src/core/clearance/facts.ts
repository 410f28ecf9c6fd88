import type { Segment, SegmentKind, SoundKind, Treatment, UnexplainedEvent } from '../hearing'
import type { TimeRange } from '../time-range'

/** Version of the form of the facts. */
export const FACTS_VERSION = 1

/**
 * All that one finished check examined and found. Immutable: it is written once, whole, and named by the hash of its canonical JSON.
 *
 * What was not examined is part of it, so that nothing can be called clear on the strength of what nobody listened to.
 */
export interface CheckFacts {
  readonly version: typeof FACTS_VERSION
  /** UTC, ISO 8601. */
  readonly finishedAt: string
  readonly file: { readonly sha256: string; readonly sizeBytes: number; readonly hasPicture: boolean }
  readonly decoder: { readonly name: string; readonly version: string }
  readonly engine: { readonly version: string; readonly featuresVersion: number }
  /** Every audio track of the file, in the order of the container. */
  readonly tracks: readonly TrackFacts[]
  readonly reference: ReferenceFacts
  readonly detections: readonly DetectionFacts[]
  /** Hash of the facts that these carry on: the same examination, with more sounds looked for since. */
  readonly carriesOn: string | null
  /** Revision of what was placed in the video when it was examined; null where nothing was. Older facts do not tell. */
  readonly planRevision?: number | null | undefined
  /** What was placed in the video when it was examined, but for what was muted. Older facts do not tell. */
  readonly placed?: readonly PlacedFacts[] | undefined
}

/** A sound at the place that it was given in the video. */
export interface PlacedFacts {
  readonly soundId: number
  /** SHA-256 of the copy; null for the preview of a sound that was not acquired yet. */
  readonly audioSha256: string | null
  /** The bed that it is a stem or part of; null for what stands alone. */
  readonly bedId: number | null
  readonly startS: number
  readonly endS: number
}

/** One audio track, and what of it was examined. */
export interface TrackFacts {
  readonly index: number
  readonly codec: string
  readonly language: string | null
  readonly channelCount: number
  readonly channelLayout: string
  /** Length that the container states, s. */
  readonly statedDurationS: number | null
  /** Why it was not listened to; null when it was. */
  readonly notListenedReason: string | null
  /** Length of what was decoded, gaps included, s; 0 when it was not listened to. */
  readonly durationS: number
  /** Whether decoding came to the end of the track by itself. */
  readonly end: 'whole' | 'broke-off' | 'stalled'
  /** What should be there and was not decoded. */
  readonly missing: readonly TimeRange[]
  readonly stages: readonly StageFacts[]
  readonly decoys: { readonly listenedFor: number; readonly heard: number }
  /**
   * For each sound that was not heard: its id, the level relative to its file from which it would have been, null for none, and what it is to hearing, which older
   * facts do not say, nor any of a silent sound: tones and clicks are missed more often than their level says.
   */
  readonly sensitivity: readonly (readonly [
    soundId: number,
    fromDb: number | null,
    kind?: SoundKind | null | undefined,
  ])[]
  readonly segments: readonly Segment[]
  readonly unexplained: readonly UnexplainedEvent[]
  /** Stretches of heard sounds in which more is there than they explain; undefined where that was not looked at. */
  readonly beyondHeard?: readonly TimeRange[] | undefined
  /** Stretches in which left and right oppose each other, without what was heard there where their side was searched; undefined where that was not looked at. */
  readonly opposed?: readonly TimeRange[] | undefined
  /** Stretches in which that is so in some bands only, under what goes on in the middle; undefined likewise. */
  readonly partlyOpposed?: readonly TimeRange[] | undefined
  readonly secondsOf: Readonly<Record<SegmentKind | 'heard' | 'unexplained', number>>
  readonly explainedFraction: number
  readonly loudness: {
    readonly integratedLufs: number | null
    readonly truePeakDbtp: number | null
    readonly rangeLu: number | null
    readonly shortTermMaxLufs: number | null
  } | null
}

/** One pass over a track. */
export interface StageFacts {
  readonly name: 'shortlist' | 'catalogue' | 'looked-up' | 'side' | 'again'
  readonly soundCount: number
  /** Score from which a place is reported. */
  readonly threshold: number
  /** Whether other speeds were tried too. */
  readonly otherSpeeds: boolean
  readonly isComplete: boolean
}

/** The sounds that were listened for. */
export interface ReferenceFacts {
  /** Id of each sound, and SHA-256 of the audio that it was listened for by. */
  readonly listenedFor: readonly (readonly [soundId: number, audioSha256: string])[]
  readonly notListenedFor: readonly { readonly soundId: number; readonly reason: string }[]
  /** Sounds that the creator named for a stretch, and that were looked for one by one. */
  readonly claimedIds: readonly number[]
  /** Number of the newest change of any sound's audio that the list knows of. */
  readonly upToChange: number
}

/** A place where a sound was heard. */
export interface DetectionFacts {
  readonly trackIndex: number
  readonly soundId: number
  /** SHA-256 of the audio that it matched. */
  readonly audioSha256: string
  readonly startS: number
  readonly endS: number
  /** Part of the sound that is heard, s. */
  readonly fromS: number
  readonly toS: number
  readonly gainDb: number
  /** 0 to 1. */
  readonly confidence: number
  readonly speed: number
  readonly treatment: Treatment
  readonly cutoffHz: number | null
  /** -1 left only, 0 as in the file, 1 right only. */
  readonly balance: number
  readonly fadeInS: number
  readonly fadeOutS: number
  /** Other sounds that are the same recording, or answered alike at this place. */
  readonly alternativeIds: readonly number[]
  /** Heard in the side, half the difference of left and right: of what is in the middle there it says nothing. */
  readonly inSide?: true | undefined
}
