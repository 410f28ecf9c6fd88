import Flac from 'libflacjs'
import { createMp3Encoder, createOggEncoder } from 'wasm-media-encoders'
import { writeWav } from '../../src/core/formats/wav'
import type { DemoSound } from './catalogue'
import { RATE_HZ } from './toolkit'

/** Encodes a sound in the format that its library offers. */
export async function encoded(channels: readonly Float32Array[], format: DemoSound['format']): Promise<Uint8Array> {
  if (format === 'wav') return writeWav({ sampleRateHz: RATE_HZ, channels }, { bits: 16 })
  if (format === 'flac') return flac(channels)
  return lossy(channels, format)
}

/** Preview quality Ogg Vorbis, as the libraries serve it for listening. */
export function previewOf(channels: readonly Float32Array[]): Promise<Uint8Array> {
  return lossy(channels, 'ogg')
}

type Lossy = 'mp3' | 'ogg'

/** To make an encoder takes longer than to encode a short sound; one that is configured anew begins anew. */
const encoders: Partial<Record<Lossy, ReturnType<typeof createMp3Encoder> | ReturnType<typeof createOggEncoder>>> = {}

async function lossy(channels: readonly Float32Array[], format: Lossy): Promise<Uint8Array> {
  encoders[format] ??= format === 'mp3' ? createMp3Encoder() : createOggEncoder()
  const encoder = await encoders[format]
  // From here to the end nothing is waited for: nobody else comes in between.
  const count = channels.length === 1 ? 1 : 2
  encoder.configure({
    sampleRate: RATE_HZ,
    channels: count,
    ...(format === 'mp3' ? { bitrate: 192 } : { vbrQuality: 5 }),
  } as never)
  // The encoder reuses its output memory: what it returns has to be copied at once.
  const head = encoder.encode([...channels]).slice()
  const tail = encoder.finalize().slice()
  const all = new Uint8Array(head.length + tail.length)
  all.set(head)
  all.set(tail, head.length)
  return all
}

const FLAC_BLOCK = 4096

async function flac(channels: readonly Float32Array[]): Promise<Uint8Array> {
  const library = Flac('min')
  if (!library.isReady()) await new Promise<void>((resolve) => library.on('ready', () => resolve()))
  const frames = channels[0]?.length ?? 0
  const encoder = library.create_libflac_encoder(RATE_HZ, channels.length, 16, 5, frames, false, FLAC_BLOCK)
  const parts: Uint8Array[] = []
  if (library.init_encoder_stream(encoder, (part: Uint8Array) => void parts.push(part.slice())) !== 0)
    throw new Error('the FLAC encoder could not be set up')
  const interleaved = new Int32Array(frames * channels.length)
  channels.forEach((channel, index) => {
    for (let i = 0; i < frames; i++)
      interleaved[i * channels.length + index] = Math.max(
        -32768,
        Math.min(32767, Math.round((channel[i] as number) * 32767)),
      )
  })
  if (!library.FLAC__stream_encoder_process_interleaved(encoder, interleaved, frames))
    throw new Error('FLAC encoding failed')
  library.FLAC__stream_encoder_finish(encoder)
  library.FLAC__stream_encoder_delete(encoder)
  return Buffer.concat(parts)
}
