/** What is known of a file once it is decoded. */
export interface DecodedMedia {
  readonly sampleRateHz: number
  /** 1 or 2: more channels are mixed down to stereo. */
  readonly channelCount: number
  readonly durationS: number
  readonly hasPicture: boolean
}

/** Receives decoded sound block by block. Called with 1 or 2 arrays of equal length; they may be kept. */
export type BlockSink = (channels: readonly Float32Array[], sampleRateHz: number) => void

export interface DecodeOptions {
  readonly onBlock: BlockSink
  /** Fraction of the file that is decoded, 0 to 1. */
  readonly onProgress?: (fraction: number) => void
  readonly signal?: AbortSignal
}

/** One way of decoding. Both ways give positions that agree to a few milliseconds. */
export interface Decoder {
  readonly name: 'embedded' | 'ffmpeg'
  /** @throws {MediaError} for a file that gives no sound; AbortError when the signal fires. */
  decode(path: string, options: DecodeOptions): Promise<DecodedMedia>
}

export const MEDIA_ERROR_CODES = ['not-media', 'no-sound', 'unsupported-codec', 'too-long'] as const
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
