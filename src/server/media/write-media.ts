import { registerAacEncoder } from '@mediabunny/aac-encoder'
import { registerFlacEncoder } from '@mediabunny/flac-encoder'
import {
  ALL_FORMATS,
  AudioSample,
  AudioSampleSink,
  AudioSampleSource,
  EncodedPacketSink,
  EncodedVideoPacketSource,
  FilePathSource,
  FilePathTarget,
  FlacOutputFormat,
  Input,
  type InputAudioTrack,
  type InputVideoTrack,
  MkvOutputFormat,
  Mp4OutputFormat,
  Output,
} from 'mediabunny'
import { media as messages } from '../../messages/server/media'
import { MediaError } from './decoder'

/** Enough for a sound track that is heard by careful ears, bits a second. */
const AAC_BITRATE = 320_000
/** What the AAC encoder puts before the sound, frames: a block that its overlapping windows begin with. */
const AAC_DELAY_FRAMES = 1024
/** Codecs of pictures that are at home in MP4; any other goes into Matroska. */
const MP4_CODECS: readonly string[] = ['avc', 'hevc', 'av1', 'vp9']

let isReady = false

/** The encoders are there from the first time that one is needed. */
function prepareEncoders(): void {
  if (isReady) return
  registerFlacEncoder()
  registerAacEncoder()
  isReady = true
}

/**
 * Runs something while this thread looks as Node is: a decoder may have put the Worker of browsers in its place, and the encoders would take it and
 * find that it opens no addresses of blobs.
 */
async function withoutBrowserWorker<T>(run: () => Promise<T>): Promise<T> {
  const holder = globalThis as { Worker?: unknown }
  const before = holder.Worker
  holder.Worker = undefined
  try {
    return await run()
  } finally {
    holder.Worker = before
  }
}

/** Writes a sound file of PCM as FLAC, sample for sample (24 bit). @throws {MediaError} where it is no sound file. */
export function writeFlac(wavPath: string, into: string): Promise<void> {
  return withoutBrowserWorker(() => flacOf(wavPath, into))
}

async function flacOf(wavPath: string, into: string): Promise<void> {
  prepareEncoders()
  const input = new Input({ formats: ALL_FORMATS, source: new FilePathSource(wavPath) })
  try {
    const output = new Output({ format: new FlacOutputFormat(), target: new FilePathTarget(into) })
    const source = new AudioSampleSource({ codec: 'flac' })
    output.addAudioTrack(source)
    await output.start()
    await pipeSound(await soundOf(input), source)
    await output.finalize()
  } finally {
    input.dispose()
  }
}

/**
 * Writes the picture of a file with another sound track. The picture is copied as it is, not encoded again; the sound is AAC.
 *
 * @returns Ending of the file: "mp4", or "mkv" for a picture that MP4 does not take. @throws {MediaError} where there is no picture.
 */
export function writeVideo(cutPath: string, wavPath: string, into: string): Promise<'mp4' | 'mkv'> {
  return withoutBrowserWorker(() => videoOf(cutPath, wavPath, into))
}

async function videoOf(cutPath: string, wavPath: string, into: string): Promise<'mp4' | 'mkv'> {
  prepareEncoders()
  const cut = new Input({ formats: ALL_FORMATS, source: new FilePathSource(cutPath) })
  const mix = new Input({ formats: ALL_FORMATS, source: new FilePathSource(wavPath) })
  try {
    const picture = await cut.getPrimaryVideoTrack()
    const codec = await picture?.getCodec()
    if (!picture || !codec) throw new MediaError('not-media', messages.cutHasNoPictureThat)
    const ending = MP4_CODECS.includes(codec) ? 'mp4' : 'mkv'
    const format = ending === 'mp4' ? new Mp4OutputFormat({ fastStart: false }) : new MkvOutputFormat()
    const output = new Output({ format, target: new FilePathTarget(into) })
    const pictures = new EncodedVideoPacketSource(codec)
    const sound = new AudioSampleSource({ codec: 'aac', bitrate: AAC_BITRATE })
    output.addVideoTrack(pictures, { rotation: await picture.getRotation() })
    output.addAudioTrack(sound)
    await output.start()
    // The sound is given so much earlier as the encoder makes it later, so that both keep together; the first 21 ms of it are silent.
    await Promise.all([copyPicture(picture, pictures), pipeSound(await soundOf(mix), sound, AAC_DELAY_FRAMES)])
    await output.finalize()
    return ending
  } finally {
    cut.dispose()
    mix.dispose()
  }
}

async function soundOf(input: Input): Promise<InputAudioTrack> {
  const track = await input.getPrimaryAudioTrack()
  if (!track) throw new MediaError('not-media', messages.thereNoSoundInThis)
  return track
}

/** @param skippedFrames So many of the first are left out, and all others are as much earlier. */
async function pipeSound(track: InputAudioTrack, into: AudioSampleSource, skippedFrames = 0): Promise<void> {
  let left = skippedFrames
  let atFrame = 0
  for await (const sample of new AudioSampleSink(track).samples()) {
    const { numberOfFrames, numberOfChannels, sampleRate } = sample
    const frameOffset = Math.min(left, numberOfFrames)
    left -= frameOffset
    if (frameOffset < numberOfFrames) {
      const frameCount = numberOfFrames - frameOffset
      const data = new Float32Array(frameCount * numberOfChannels)
      sample.copyTo(data, { format: 'f32', planeIndex: 0, frameOffset, frameCount })
      const timestamp = atFrame / sampleRate
      const moved = new AudioSample({ data, format: 'f32', numberOfChannels, sampleRate, timestamp })
      await into.add(moved)
      moved.close()
      atFrame += frameCount
    }
    sample.close()
  }
  into.close()
}

async function copyPicture(track: InputVideoTrack, into: EncodedVideoPacketSource): Promise<void> {
  const config = await track.getDecoderConfig()
  let isFirst = true
  for await (const packet of new EncodedPacketSink(track).packets()) {
    await into.add(packet, isFirst && config ? { decoderConfig: config } : undefined)
    isFirst = false
  }
  into.close()
}
