import fs from 'node:fs'
import { createRequire } from 'node:module'
import path from 'node:path'
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
import { LENGTH_TOLERANCE_S } from '../../core/time-range'
import { media as messages } from '../../messages/server/media'
import { type ChannelOrder, channelLayout, layoutName } from './channel-layout'
import { type DecodeEnd, type DecodeOptions, type Decoder, MediaError, type MediaInfo } from './decoder'
import { opusPreSkip, type PacketCodec, packetCodec } from './packet-codecs'
import { endsInZeros, mp3StatesLength, oggEndsProperly, readStatedWavDurationS } from './stated-length'
import { SoundTimeline } from './timeline'

/** Packets decoded at once: enough to keep the overhead low, few enough to stay cancellable. */
const PACKETS_AT_ONCE = 64
const CHUNK_BYTES = 256 * 1024

/** The decoder that ships with the application: demultiplexing in JavaScript, codecs in WebAssembly, nothing installed. */
export const embeddedDecoder: Decoder = {
  name: 'embedded',
  version: packageVersion,
  inspect: (file) => withInput(file, inspectInput),
  decode: (file, options) =>
    withInput(file, async (input) => {
      const format = await readable(input)
      const track = await soundTrack(input, options.trackIndex ?? 0)
      const codec = await track.getCodec()
      const hasPicture = (await input.getPrimaryVideoTrack()) !== null
      const layout = channelLayout(orderOf(codec), await track.getNumberOfChannels())
      const knownS = await readDuration(track)
      // The length of an MP3 that does not state it is guessed, which must not cut what is really there.
      const isGuessed = format === 'MP3' && !(await mp3StatesLength(file))
      const timeline = new SoundTimeline(options, isGuessed ? null : knownS, layout)
      let end: DecodeEnd
      if (format === 'MP3') end = await decodeMp3(file, timeline, options)
      else if (format === 'Ogg' && codec === 'vorbis') end = await decodeVorbis(file, timeline, options)
      else end = await decodeTrack(track, format, timeline, options)
      const media = timeline.end()
      if (!media) throw new MediaError('no-sound', messages.fileHasSoundTrackBut)
      if (end === 'whole' && format === 'Ogg' && !(await oggEndsProperly(file))) end = 'broke-off'
      // A recording that states no length is whole only where it does not end in what was never written.
      const isMatroska = format === 'Matroska' || format === 'WebM'
      if (end === 'whole' && isMatroska && knownS === null && (await endsInZeros(file))) end = 'broke-off'
      // Where decoding hung, looking for the last packets would hang too.
      const statedS = end === 'stalled' ? knownS : await readStatedDuration(input, file, format, track)
      return { ...media, hasPicture, end, missing: timeline.missing(statedS) }
    }),
}

/** Version of the demultiplexer; its package hides the file that says so, which is looked for above its entry. */
function packageVersion(): string {
  for (let dir = path.dirname(createRequire(import.meta.url).resolve('mediabunny')); ; dir = path.dirname(dir)) {
    const file = path.join(dir, 'package.json')
    const { name, version } = fs.existsSync(file)
      ? (JSON.parse(fs.readFileSync(file, 'utf8')) as { name?: string; version?: string })
      : {}
    if (name === 'mediabunny' && version) return version
    if (dir === path.dirname(dir)) return 'unknown'
  }
}

async function withInput<T>(file: string, use: (input: Input) => Promise<T>): Promise<T> {
  const input = new Input({ formats: ALL_FORMATS, source: new FilePathSource(file) })
  try {
    return await use(input)
  } finally {
    input.dispose()
  }
}

async function inspectInput(input: Input): Promise<MediaInfo> {
  await readable(input)
  const tracks = await soundTracks(input)
  return {
    hasPicture: (await input.getPrimaryVideoTrack()) !== null,
    tracks: await Promise.all(
      tracks.map(async (track, index) => {
        const channelCount = await track.getNumberOfChannels()
        const language = await track.getLanguageCode()
        return {
          index,
          codec: (await track.getCodec()) ?? 'unknown',
          language: language === 'und' ? null : language,
          channelCount,
          channelLayout: layoutName(channelCount),
          durationS: await readDuration(track),
        }
      }),
    ),
  }
}

/** In which order the decoder of a codec gives channels. */
function orderOf(codec: string | null): ChannelOrder {
  if (codec === 'aac') return 'aac'
  return codec === 'opus' || codec === 'vorbis' ? 'vorbis' : 'wave'
}

/**
 * Length that a track should have by what the file states. Matroska states one length for the whole file: where another track
 * reaches it, this one may end earlier of itself.
 */
async function readStatedDuration(
  input: Input,
  file: string,
  format: string,
  track: InputAudioTrack,
): Promise<number | null> {
  if (format === 'WAVE') return readStatedWavDurationS(file)
  if (format === 'MP3' && !(await mp3StatesLength(file))) return null
  const statedS = await readDuration(track)
  if (statedS === null || (format !== 'Matroska' && format !== 'WebM')) return statedS
  const others = await input.getTracks()
  if (others.length < 2) return statedS
  const reachedS = Math.max(...(await Promise.all(others.map((other) => other.computeDuration().catch(() => 0)))))
  return reachedS < statedS - LENGTH_TOLERANCE_S ? statedS : await track.computeDuration()
}

async function readable(input: Input): Promise<string> {
  try {
    return (await input.getFormat()).name
  } catch (cause) {
    throw new MediaError('not-media', messages.fileNotVideoOrSound, { cause })
  }
}

/** All sound tracks, in the order of the container. */
async function soundTracks(input: Input): Promise<InputAudioTrack[]> {
  let tracks: InputAudioTrack[]
  try {
    tracks = await input.getAudioTracks()
  } catch (cause) {
    throw new MediaError('not-media', messages.fileDamagedListTracksCannot, { cause })
  }
  if (tracks.length === 0) throw new MediaError('no-sound', messages.fileHasNoSoundTrack)
  return tracks
}

async function soundTrack(input: Input, index: number): Promise<InputAudioTrack> {
  const track = (await soundTracks(input))[index]
  if (!track) throw new MediaError('no-sound', messages.fileHasNoSoundTrackWith(index + 1))
  return track
}

async function readDuration(track: InputAudioTrack): Promise<number | null> {
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
}

/** Files that are one plain stream go to their decoder byte by byte: it knows how much padding to cut. */
async function decodeStream(
  file: string,
  decoder: ByteDecoder,
  timeline: SoundTimeline,
  { signal, onProgress, untilS }: DecodeOptions,
): Promise<DecodeEnd> {
  await decoder.ready
  const { size } = await fs.promises.stat(file)
  let read = 0
  for await (const chunk of fs.createReadStream(file, { highWaterMark: CHUNK_BYTES })) {
    signal?.throwIfAborted()
    const bytes = chunk as Buffer
    const { channelData, sampleRate } = await decoder.decode(new Uint8Array(bytes))
    timeline.append(channelData, sampleRate)
    if (isAtEnd(timeline, untilS)) return 'stalled'
    read += bytes.length
    onProgress?.(read / size)
  }
  if (decoder.flush) {
    const { channelData, sampleRate } = await decoder.flush()
    timeline.append(channelData, sampleRate)
  }
  return 'whole'
}

async function decodeMp3(file: string, timeline: SoundTimeline, options: DecodeOptions): Promise<DecodeEnd> {
  const decoder = new MPEGDecoder()
  try {
    return await decodeStream(file, decoder, timeline, options)
  } finally {
    decoder.free()
  }
}

/** One that read a file to its end was flushed and is as new: making one, and throwing its memory away, takes longer than a short sound. */
let readyVorbis: OggVorbisDecoder | null = null

async function decodeVorbis(file: string, timeline: SoundTimeline, options: DecodeOptions): Promise<DecodeEnd> {
  const decoder = readyVorbis ?? new OggVorbisDecoder()
  readyVorbis = null
  let end: DecodeEnd | null = null
  try {
    end = await decodeStream(file, decoder, timeline, options)
    return end
  } finally {
    if (end === 'whole' && !readyVorbis) readyVorbis = decoder
    else decoder.free()
  }
}

async function decodeTrack(
  track: InputAudioTrack,
  format: string,
  timeline: SoundTimeline,
  options: DecodeOptions,
): Promise<DecodeEnd> {
  const name = await track.getCodec()
  if (name?.startsWith('pcm') || name === 'ulaw' || name === 'alaw') {
    return decodePcm(track, timeline, options)
  }
  const config = await track.getDecoderConfig().catch(() => null)
  const description = config?.description ? bytesOf(config.description) : null
  const codec = name
    ? await packetCodec({ codec: name, description, channelCount: await track.getNumberOfChannels() })
    : null
  if (!codec)
    throw new MediaError('unsupported-codec', messages.soundEncodedAsWhichCannot(name ?? messages.somethingUnknown))
  try {
    // Matroska and Ogg count an Opus stream from before its pre-skip; MP4 has an edit list for it.
    const counted = format === 'Matroska' || format === 'WebM' || format === 'Ogg'
    const earlyS = name === 'opus' && counted ? opusPreSkip(description) / 48000 : 0
    return await decodePackets(track, codec, earlyS, timeline, options)
  } finally {
    codec.free()
  }
}

async function decodePcm(
  track: InputAudioTrack,
  timeline: SoundTimeline,
  { signal, onProgress, untilS }: DecodeOptions,
): Promise<DecodeEnd> {
  const durationS = await readDuration(track)
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
      if (isAtEnd(timeline, untilS)) return 'stalled'
    }
    return 'whole'
  } catch (error) {
    return brokeOff(error, timeline, signal)
  }
}

async function decodePackets(
  track: InputAudioTrack,
  codec: PacketCodec,
  earlyS: number,
  timeline: SoundTimeline,
  { signal, onProgress, untilS }: DecodeOptions,
): Promise<DecodeEnd> {
  const durationS = await readDuration(track)
  let group: EncodedPacket[] = []
  const drain = async (): Promise<void> => {
    if (group.length === 0) return
    signal?.throwIfAborted()
    const packets = group
    group = []
    try {
      await decodeInto(packets)
    } catch (error) {
      endIfOverLimit(error)
      // One damaged packet must not take its neighbours along.
      for (const packet of packets)
        await decodeInto([packet]).catch((damage: unknown) => {
          endIfOverLimit(damage)
          isDamaged = true
          if (damage instanceof MediaError) badTimes = damage
        })
    }
  }
  let isDamaged = false
  let badTimes: MediaError | null = null
  const decodeInto = async (packets: readonly EncodedPacket[]): Promise<void> => {
    const { channels, sampleRateHz } = await codec.decode(packets.map((packet) => packet.data))
    const last = packets[packets.length - 1] as EncodedPacket
    const endS = last.timestamp + last.duration - earlyS
    if (codec.withholdsFirst && timeline.isEmpty) timeline.placeEndingAt(endS, channels, sampleRateHz)
    else timeline.place((packets[0] as EncodedPacket).timestamp - earlyS, channels, sampleRateHz)
    if (durationS) onProgress?.(Math.min(1, endS / durationS))
  }
  try {
    for await (const packet of new EncodedPacketSink(track).packets()) {
      group.push(packet)
      if (group.length === PACKETS_AT_ONCE) await drain()
      if (group.length === 0 && isAtEnd(timeline, untilS)) return 'stalled'
    }
    await drain()
    if (badTimes && timeline.isEmpty) throw badTimes
    return isDamaged ? 'broke-off' : 'whole'
  } catch (error) {
    await drain().catch(endIfOverLimit)
    return brokeOff(error, timeline, signal)
  }
}

/** A limit that was met ends the decoding; damage is gone past. @throws {MediaError} */
function endIfOverLimit(error: unknown): void {
  if (error instanceof MediaError && error.code !== 'bad-times') throw error
}

/** Whether decoding is to stop here: what comes next was seen to hang. */
function isAtEnd(timeline: SoundTimeline, untilS: number | undefined): boolean {
  return untilS !== undefined && timeline.lengthS >= untilS
}

/** A file that breaks off gives what came before; a cancelled job or an undecodable start does not. */
function brokeOff(error: unknown, timeline: SoundTimeline, signal: AbortSignal | undefined): DecodeEnd {
  if (signal?.aborted || timeline.isEmpty) throw error
  endIfOverLimit(error)
  return 'broke-off'
}

function bytesOf(source: AllowSharedBufferSource): Uint8Array {
  return ArrayBuffer.isView(source)
    ? new Uint8Array(source.buffer, source.byteOffset, source.byteLength)
    : new Uint8Array(source)
}
