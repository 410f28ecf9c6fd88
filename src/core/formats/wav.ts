import { type RiffChunk, RiffError, riffChunks } from './riff'

/** Samples of a WAV file, one array a channel, full scale 1. */
export interface WavAudio {
  readonly sampleRateHz: number
  readonly channels: readonly Float32Array[]
}

/** A file that is not the kind of WAV that can be read. */
export class WavError extends Error {
  override readonly name = 'WavError'
  constructor(
    readonly code: 'not-wav' | 'unsupported',
    message: string,
  ) {
    super(message)
  }
}

const PCM = 1
const FLOAT = 3
const EXTENSIBLE = 0xfffe

/**
 * Reads a WAVE file, RIFF or RF64: integer PCM of 8, 16, 24 or 32 bits and 32-bit float.
 *
 * A data chunk that is cut off gives the frames that are there.
 *
 * @throws {WavError} not-wav, unsupported.
 */
export function readWav(bytes: Uint8Array): WavAudio {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let format: { kind: number; channels: number; rate: number; bits: number } | null = null
  for (const { id, start, size } of chunksOf(bytes)) {
    if (id === 'fmt ' && size >= 16) {
      const kind = view.getUint16(start, true)
      format = {
        kind: kind === EXTENSIBLE && size >= 26 ? view.getUint16(start + 24, true) : kind,
        channels: view.getUint16(start + 2, true),
        rate: view.getUint32(start + 4, true),
        bits: view.getUint16(start + 14, true),
      }
    } else if (id === 'data') {
      if (!format) throw new WavError('not-wav', 'the WAV file has no format before its data')
      return { sampleRateHz: format.rate, channels: samplesOf(view, start, size, format) }
    }
  }
  throw new WavError('not-wav', 'the WAV file holds no data')
}

function chunksOf(bytes: Uint8Array): RiffChunk[] {
  try {
    return riffChunks(bytes)
  } catch (error) {
    if (error instanceof RiffError) throw new WavError('not-wav', 'the file does not start as a WAV file')
    throw error
  }
}

function samplesOf(
  view: DataView,
  start: number,
  size: number,
  format: { kind: number; channels: number; bits: number },
): Float32Array[] {
  const { kind, channels, bits } = format
  const supported = (kind === PCM && [8, 16, 24, 32].includes(bits)) || (kind === FLOAT && bits === 32)
  if (!supported || channels < 1 || channels > 32)
    throw new WavError('unsupported', `WAV of kind ${kind} with ${bits} bits and ${channels} channels cannot be read`)
  const bytesEach = bits / 8
  const frames = Math.floor(Math.min(size, view.byteLength - start) / (bytesEach * channels))
  return Array.from({ length: channels }, (_, channel) => {
    const samples = new Float32Array(frames)
    for (let frame = 0; frame < frames; frame++)
      samples[frame] = sampleAt(view, start + (frame * channels + channel) * bytesEach, kind, bits)
    return samples
  })
}

function sampleAt(view: DataView, at: number, kind: number, bits: number): number {
  if (kind === FLOAT) {
    const value = view.getFloat32(at, true)
    return Number.isFinite(value) ? value : 0
  }
  if (bits === 8) return (view.getUint8(at) - 128) / 128
  if (bits === 16) return view.getInt16(at, true) / 32768
  if (bits === 24) return ((view.getInt8(at + 2) << 16) | view.getUint16(at, true)) / 8388608
  return view.getInt32(at, true) / 2147483648
}

/**
 * Writes integer PCM; samples beyond full scale are clipped.
 *
 * @param options.bits 16 or 24.
 */
export function writeWav(audio: WavAudio, options: { readonly bits: 16 | 24 } = { bits: 16 }): Uint8Array {
  const { channels, sampleRateHz } = audio
  const frames = channels[0]?.length ?? 0
  const bytesEach = options.bits / 8
  const dataSize = frames * channels.length * bytesEach
  const out = new Uint8Array(44 + dataSize + (dataSize & 1))
  const view = new DataView(out.buffer)
  putTag(out, 0, 'RIFF')
  view.setUint32(4, out.length - 8, true)
  putTag(out, 8, 'WAVEfmt ')
  view.setUint32(16, 16, true)
  view.setUint16(20, PCM, true)
  view.setUint16(22, channels.length, true)
  view.setUint32(24, sampleRateHz, true)
  view.setUint32(28, sampleRateHz * channels.length * bytesEach, true)
  view.setUint16(32, channels.length * bytesEach, true)
  view.setUint16(34, options.bits, true)
  putTag(out, 36, 'data')
  view.setUint32(40, dataSize, true)
  const full = 2 ** (options.bits - 1)
  channels.forEach((channel, n) => {
    let at = 44 + n * bytesEach
    for (let frame = 0; frame < frames; frame++, at += bytesEach * channels.length) {
      const value = Math.max(-full, Math.min(full - 1, Math.round((channel[frame] as number) * full)))
      out[at] = value
      out[at + 1] = value >> 8
      if (bytesEach === 3) out[at + 2] = value >> 16
    }
  })
  return out
}

function putTag(out: Uint8Array, at: number, text: string): void {
  for (let i = 0; i < text.length; i++) out[at + i] = text.charCodeAt(i)
}
