import { media as messages } from '../../messages/server/media'
import type { DecodedMedia, DecodeOptions, Decoder, MediaInfo } from './decoder'
import { MediaError } from './decoder'
import { embeddedDecoder } from './embedded'
import { ffmpegDecoder, ffmpegIsThere } from './ffmpeg'

/** Asked once a process: looking for the programs takes longer than decoding a short sound. */
const ffmpegFound = once(ffmpegIsThere)

/** The decoder for finished videos: `ffmpeg` where it is installed (faster, more formats), else the one that ships. */
export function chosenDecoder(preference: string | undefined = process.env.THUD_DECODER): Decoder {
  return preference !== 'embedded' && ffmpegFound() ? ffmpegDecoder : embeddedDecoder
}

/** The decoder for short sounds: the one that ships, which starts at once; `ffmpeg` for what it cannot read. */
export const soundDecoder: Decoder = {
  name: 'embedded',
  version: embeddedDecoder.version,
  inspect: embeddedDecoder.inspect,
  async decode(path, options) {
    let begun = false
    const onBlock: DecodeOptions['onBlock'] = (channels, rate) => {
      begun = true
      options.onBlock(channels, rate)
    }
    try {
      return await embeddedDecoder.decode(path, { ...options, onBlock })
    } catch (error) {
      const other = chosenDecoder()
      if (begun || other === embeddedDecoder || options.signal?.aborted) throw error
      return other.decode(path, options)
    }
  },
}

function once<T>(make: () => T): () => T {
  let made: { value: T } | null = null
  return () => {
    made ??= { value: make() }
    return made.value
  }
}

/**
 * Decodes a file, whatever goes wrong inside a decoder ending as a MediaError.
 *
 * @throws {MediaError}; AbortError when the signal fires.
 */
export async function decodeMedia(decoder: Decoder, path: string, options: DecodeOptions): Promise<DecodedMedia> {
  try {
    return await decoder.decode(path, options)
  } catch (cause) {
    if (cause instanceof MediaError || options.signal?.aborted) throw cause
    throw new MediaError('not-media', messages.fileDamagedSoundCouldNot, { cause })
  }
}

/**
 * What a file holds.
 *
 * @throws {MediaError}, whatever goes wrong inside.
 */
export async function inspectMedia(decoder: Decoder, path: string): Promise<MediaInfo> {
  try {
    return await decoder.inspect(path)
  } catch (cause) {
    if (cause instanceof MediaError) throw cause
    throw new MediaError('not-media', messages.fileDamagedWhatHoldsCould, { cause })
  }
}
