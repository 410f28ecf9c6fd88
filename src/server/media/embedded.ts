import fs from 'node:fs'
import { OggVorbisDecoder } from '@wasm-audio-decoders/ogg-vorbis'
import {
  ALL_FORMATS,
  AudioSampleSink,
  type EncodedPacket,
  EncodedPacketSink,
  FilePathSource,
  Input,
  type InputAudioTrack,
} from 'mediabunny'
import { MPEGDecoder } from 'mpg123-decoder'
import { type DecodedMedia, type DecodeOptions, type Decoder, MediaError } from './decoder'
import { opusPreSkip, type PacketCodec, packetCodec } from './packet-codecs'
import { SoundTimeline } from './timeline'

/** Packets decoded at once: enough to keep the overhead low, few enough to stay cancellable. */
const PACKETS_AT_ONCE = 64
const CHUNK_BYTES = 256 * 1024

/** The decoder that ships with the application: demultiplexing in JavaScript, codecs in WebAssembly, nothing installed. */
export const embeddedDecoder: Decoder = {
  name: 'embedded',
  async decode(path, options) {
    const input = new Input({ formats: ALL_FORMATS, source: new FilePathSource(path) })
    try {
      const format = await readable(input)
      const track = await soundTrack(input)
      const hasPicture = (await input.getPrimaryVideoTrack()) !== null
      const durationS = await knownDuration(track)
      const timeline = new SoundTimeline(options, durationS)
      if (format === 'MP3') await decodeStream(path, new MPEGDecoder(), timeline, options)
      else if (format === 'Ogg' && (await track.getCodec()) === 'vorbis')
        await decodeStream(path, new OggVorbisDecoder(), timeline, options)
      else await decodeTrack(track, format, timeline, options)
      return finished(timeline, hasPicture)
    } finally {
      input.dispose()
    }
  },
}

function finished(timeline: SoundTimeline, hasPicture: boolean): DecodedMedia {
  const media = timeline.end()
  if (!media) throw new MediaError('no-sound', `The file has a sound track, but nothing in it could be decoded.`)
  return { ...media, hasPicture }
}

async function readable(input: Input): Promise<string> {
  try {
    return (await input.getFormat()).name
  } catch (cause) {
    throw new MediaError('not-media', `The file is not a video or sound file that can be read.`, { cause })
  }
}

async function soundTrack(input: Input): Promise<InputAudioTrack> {
  let track: InputAudioTrack | null
  try {
    track = await input.getPrimaryAudioTrack()
  } catch (cause) {
    throw new MediaError('not-media', `The file is damaged: its list of tracks cannot be read.`, { cause })
  }
  if (!track) throw new MediaError('no-sound', `The file has no sound track. Export it with its sound.`)
  return track
}

async function knownDuration(track: InputAudioTrack): Promise<number | null> {
  try {
    return (await track.getDurationFromMetadata({ skipLiveWait: true })) ?? null
  } catch {
    return null
  }
}

interface ByteDecoder {
  readonly ready: Promise<void>
  decode(
    bytes: Uint8Array,
  ): { channelData: Float32Array[]; sampleRate: number } | Promise<{ channelData: Float32Array[]; sampleRate: number }>
  flush?(): Promise<{ channelData: Float32Array[]; sampleRate: number }>
  free(): void
}

/** Files that are one plain stream go to their decoder byte by byte: it knows how much padding to cut. */
async function decodeStream(
  path: string,
  decoder: ByteDecoder,
  timeline: SoundTimeline,
  { signal, onProgress }: DecodeOptions,
): Promise<void> {
  await decoder.ready
  try {
    const { size } = await fs.promises.stat(path)
    let read = 0
    for await (const chunk of fs.createReadStream(path, { highWaterMark: CHUNK_BYTES })) {
      signal?.throwIfAborted()
      const bytes = chunk as Buffer
      const { channelData, sampleRate } = await decoder.decode(new Uint8Array(bytes))
      timeline.append(channelData, sampleRate)
      read += bytes.length
      onProgress?.(read / size)
    }
    if (decoder.flush) {
      const { channelData, sampleRate } = await decoder.flush()
      timeline.append(channelData, sampleRate)
    }
  } finally {
    decoder.free()
  }
}

async function decodeTrack(
  track: InputAudioTrack,
  format: string,
  timeline: SoundTimeline,
  options: DecodeOptions,
): Promise<void> {
  const name = await track.getCodec()
  if (name?.startsWith('pcm') || name === 'ulaw' || name === 'alaw') {
    await decodePcm(track, timeline, options)
    return
  }
  const config = await track.getDecoderConfig().catch(() => null)
  const description = config?.description ? bytesOf(config.description) : null
  const codec = name
    ? await packetCodec({ codec: name, description, channelCount: await track.getNumberOfChannels() })
    : null
  if (!codec)
    throw new MediaError(
      'unsupported-codec',
      `Its sound is encoded as ${name ?? 'something unknown'}, which cannot be decoded. Export it with AAC, MP3, Opus, FLAC or PCM sound.`,
    )
  try {
    // Matroska and Ogg count an Opus stream from before its pre-skip; MP4 has an edit list for it.
    const counted = format === 'Matroska' || format === 'WebM' || format === 'Ogg'
    const earlyS = name === 'opus' && counted ? opusPreSkip(description) / 48000 : 0
    await decodePackets(track, codec, earlyS, timeline, options)
  } finally {
    codec.free()
  }
}

async function decodePcm(
  track: InputAudioTrack,
  timeline: SoundTimeline,
  { signal, onProgress }: DecodeOptions,
): Promise<void> {
  const durationS = await knownDuration(track)
  try {
    for await (const sample of new AudioSampleSink(track).samples()) {
      signal?.throwIfAborted()
      const channels = Array.from({ length: sample.numberOfChannels }, (_, planeIndex) => {
        const samples = new Float32Array(sample.numberOfFrames)
        sample.copyTo(samples, { planeIndex, format: 'f32-planar' })
        return samples
      })
      timeline.place(sample.timestamp, channels, sample.sampleRate)
      if (durationS) onProgress?.(Math.min(1, sample.timestamp / durationS))
      sample.close()
    }
  } catch (error) {
    stopUnlessCutOff(error, timeline, signal)
  }
}

async function decodePackets(
  track: InputAudioTrack,
  codec: PacketCodec,
  earlyS: number,
  timeline: SoundTimeline,
  { signal, onProgress }: DecodeOptions,
): Promise<void> {
  const durationS = await knownDuration(track)
  let group: EncodedPacket[] = []
  const drain = async (): Promise<void> => {
    const first = group[0]
    if (!first) return
    signal?.throwIfAborted()
    const { channels, sampleRateHz } = await codec.decode(group.map((packet) => packet.data))
    const last = group[group.length - 1] as EncodedPacket
    const endS = last.timestamp + last.duration - earlyS
    if (codec.withholdsFirst && timeline.isEmpty) timeline.placeEndingAt(endS, channels, sampleRateHz)
    else timeline.place(first.timestamp - earlyS, channels, sampleRateHz)
    if (durationS) onProgress?.(Math.min(1, endS / durationS))
    group = []
  }
  try {
    for await (const packet of new EncodedPacketSink(track).packets()) {
      group.push(packet)
      if (group.length === PACKETS_AT_ONCE) await drain()
    }
  } catch (error) {
    stopUnlessCutOff(error, timeline, signal)
  }
  await drain().catch((error: unknown) => stopUnlessCutOff(error, timeline, signal))
}

/** A file that breaks off gives what came before; a cancelled job or an undecodable start does not. */
function stopUnlessCutOff(error: unknown, timeline: SoundTimeline, signal: AbortSignal | undefined): void {
  if (signal?.aborted || error instanceof MediaError || timeline.isEmpty) throw error
}

function bytesOf(source: AllowSharedBufferSource): Uint8Array {
  return ArrayBuffer.isView(source)
    ? new Uint8Array(source.buffer, source.byteOffset, source.byteLength)
    : new Uint8Array(source)
}
