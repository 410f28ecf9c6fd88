import { decoder as aacDecoder } from '@audio/decode-aac'
import { FLACDecoder } from '@wasm-audio-decoders/flac'
import { MPEGDecoder } from 'mpg123-decoder'
import { OpusDecoder } from 'opus-decoder'
import { media as messages } from '../../messages/server/media'

/** Sound decoded from a few packets. */
export interface PacketSound {
  readonly channels: readonly Float32Array[]
  readonly sampleRateHz: number
}

/** A packet that its decoder refused. */
export class PacketError extends Error {
  override readonly name = 'PacketError'
}

/** Decodes the packets of one track, in order. */
export interface PacketCodec {
  /** Whether the decoder holds back what the first packet gives, so that its sound belongs to the later packets. */
  readonly withholdsFirst: boolean
  /** @throws {PacketError} when one of them cannot be decoded. */
  decode(packets: readonly Uint8Array[]): Promise<PacketSound>
  free(): void
}

/** How a track says that it is encoded, as the demultiplexer hands it over. */
export interface CodecConfig {
  readonly codec: string
  readonly description: Uint8Array | null
  readonly channelCount: number
}

/** Samples at 48 kHz that an Opus stream starts before its time 0 (RFC 7845, section 5.1: pre-skip). */
export function opusPreSkip(description: Uint8Array | null): number {
  return description && description.length >= 12 ? (description[10] as number) + 256 * (description[11] as number) : 0
}

/** A decoder for the packets of a track, or null when none is built in. */
export async function packetCodec(config: CodecConfig): Promise<PacketCodec | null> {
  const { codec, description } = config
  if (codec === 'aac' && description) return aacCodec({ asc: description })
  if (codec === 'alac' && description) return aacCodec({ alac: description })
  if (codec === 'opus') return opusCodec(config)
  if (codec === 'mp3') {
    const decoder = new MPEGDecoder()
    await decoder.ready
    return wrapped(decoder, true)
  }
  if (codec === 'flac') {
    const decoder = new FLACDecoder()
    await decoder.ready
    return wrapped(decoder)
  }
  return null
}

async function aacCodec(options: { asc: Uint8Array } | { alac: Uint8Array }): Promise<PacketCodec> {
  const decoder = await aacDecoder(options)
  return {
    withholdsFirst: true,
    decode: async (packets) => {
      const { channelData, sampleRate } = decoder.decode([...packets])
      return { channels: channelData, sampleRateHz: sampleRate }
    },
    free: () => decoder.free(),
  }
}

async function opusCodec({ description, channelCount }: CodecConfig): Promise<PacketCodec> {
  const family = description?.[18] ?? 0
  const mapped = description !== null && family > 0 && description.length >= 21 + channelCount
  const decoder = new OpusDecoder({
    channels: channelCount,
    streamCount: mapped ? (description[19] as number) : 1,
    coupledStreamCount: mapped ? (description[20] as number) : channelCount > 1 ? 1 : 0,
    channelMappingTable: mapped ? [...description.subarray(21, 21 + channelCount)] : [...Array(channelCount).keys()],
  })
  await decoder.ready
  return wrapped(decoder)
}

interface DecodedFrames {
  readonly channelData: Float32Array[]
  readonly sampleRate: number
  readonly errors: readonly { readonly message: string }[]
}

interface FrameDecoder {
  decodeFrames(frames: Uint8Array[]): DecodedFrames | Promise<DecodedFrames>
  free(): void
}

function wrapped(decoder: FrameDecoder, withholdsFirst = false): PacketCodec {
  return {
    withholdsFirst,
    decode: async (packets) => {
      const { channelData, sampleRate, errors } = await decoder.decodeFrames([...packets])
      // A packet that fails gives no samples, and would move all after it.
      if (errors.length > 0) throw new PacketError(errors[0]?.message ?? messages.packetCouldNotBeDecoded)
      return { channels: channelData, sampleRateHz: sampleRate }
    },
    free: () => decoder.free(),
  }
}
