import type { TimeRange } from '../../core/time-range'

/** One audio track of a file, as the container describes it. */
export interface AudioTrack {
  /** 0 for the first audio track, in the order of the container. */
  readonly index: number
  readonly codec: string
  /** ISO 639 code, or null where none is given. */
  readonly language: string | null
  readonly channelCount: number
  /** "stereo", "5.1". */
  readonly channelLayout: string
  /** Length that the container states, s, or null. */
  readonly durationS: number | null
}

/** What a file holds. */
export interface MediaInfo {
  readonly hasPicture: boolean
  /** At least one. */
  readonly tracks: readonly AudioTrack[]
}

/** How decoding ended: at the end of the track, or before it. */
export type DecodeEnd = 'whole' | 'broke-off' | 'stalled'

/** What is known of a track once it is decoded. */
export interface DecodedMedia {
  readonly sampleRateHz: number
  /** 1 or 2: more channels are folded down to stereo. */
  readonly channelCount: number
  readonly durationS: number
  readonly hasPicture: boolean
  readonly end: DecodeEnd
  /** What should be there and was not decoded: gaps, and what lacks at the end. */
  readonly missing: readonly TimeRange[]
}

/** Receives decoded sound block by block. Called with 1 or 2 arrays of equal length; they may be held on to. */
export type BlockSink = (channels: readonly Float32Array[], sampleRateHz: number) => void

export interface DecodeOptions {
  readonly onBlock: BlockSink
  /** Which audio track, 0 for the first. */
  readonly trackIndex?: number
  /** Stop once so much is decoded, s, and say that it stalled: behind it, decoding was seen to hang. */
  readonly untilS?: number
  /** Fraction of the track that is decoded, 0 to 1. */
  readonly onProgress?: (fraction: number) => void
  readonly signal?: AbortSignal
}

/** One way of decoding. All ways see the same tracks in the same order, and give positions that agree to a few milliseconds. */
export interface Decoder {
  readonly name: 'embedded' | 'ffmpeg'
  /** "1.61.0", "5.1.6-0+deb12u1". */
  version(): string
  /** @throws {MediaError} not-media, no-sound. */
  inspect(path: string): Promise<MediaInfo>
  /** @throws {MediaError} for a track that gives no sound; AbortError when the signal fires. */
  decode(path: string, options: DecodeOptions): Promise<DecodedMedia>
}

export const MEDIA_ERROR_CODES = [
  'not-media',
  'no-sound',
  'unsupported-codec',
  'too-long',
  'too-large',
  'bad-times',
  'outside',
] as const
export type MediaErrorCode = (typeof MEDIA_ERROR_CODES)[number]

/** A file that cannot be listened to. The message says which and why in a sentence. */
export class MediaError extends Error {
  override readonly name = 'MediaError'
  constructor(
    readonly code: MediaErrorCode,
    message: string,
    options?: ErrorOptions,
  ) {
    super(message, options)
  }
}

/** Longest sound track that is taken, s. Bounds memory: one hour needs about 600 MB while it is searched. */
export const MAX_TRACK_S = 4 * 3600
