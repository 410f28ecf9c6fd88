import { Fft } from '../audio/fft'
import { HEARING_RATE_HZ } from './constants'
import { type Track, trackOf } from './track'

/*
 * The compact form in which a checked track is stored: its middle at the hearing rate as a modified discrete cosine transform
 * (Princen, Johnson and Bradley, 1987) of 512 bands, 8 bits each with a scale for every 32 bands, so that also what is quiet keeps its phase.
 * Just under 1 MB a minute.
 */

/** Raised whenever the form changes; older ones are made anew from the file. */
export const COMPACT_VERSION = 1

const MAGIC = 0x4b485447
const HEADER_BYTES = 16
const BANDS = 512
const SCALE_BANDS = 32
const SCALES = BANDS / SCALE_BANDS
const FRAME_BYTES = SCALES + BANDS
/** Scales stand on a logarithmic axis: 0 is silence, each step is so many decibels, 255 is this much above full scale, dB. */
const SCALE_STEP_DB = 0.75
const SCALE_TOP_DB = 66

/** A stored track that cannot be used: damaged, or of another version. It can be made again from the finished file. */
export class CompactError extends Error {
  override readonly name = 'CompactError'
  constructor(
    readonly code: 'compact-damaged' | 'compact-outdated',
    message: string,
  ) {
    super(message)
  }
}

/** The compact form of a track, as bytes. Its side is not stored. */
export function compactTrack(track: Track): Uint8Array {
  const hops = Math.ceil(track.frames / BANDS) + 1
  const bytes = new Uint8Array(HEADER_BYTES + hops * FRAME_BYTES)
  const view = new DataView(bytes.buffer)
  view.setUint32(0, MAGIC, true)
  view.setUint32(4, COMPACT_VERSION, true)
  view.setUint32(8, track.frames, true)
  view.setUint32(12, HEARING_RATE_HZ, true)
  const transform = new CosineTransform()
  const bands = new Float32Array(BANDS)
  for (let hop = 0; hop < hops; hop++) {
    transform.forward(track.midSamples((hop - 1) * BANDS, (hop + 1) * BANDS), bands)
    writeFrame(bytes, HEADER_BYTES + hop * FRAME_BYTES, bands)
  }
  return bytes
}

/** Reads a compact track. @throws {CompactError} compact-damaged, compact-outdated. */
export function expandedTrack(bytes: Uint8Array): Track {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (bytes.length < HEADER_BYTES || view.getUint32(0, true) !== MAGIC)
    throw new CompactError('compact-damaged', 'This is not a stored sound track.')
  if (view.getUint32(4, true) !== COMPACT_VERSION || view.getUint32(12, true) !== HEARING_RATE_HZ)
    throw new CompactError('compact-outdated', 'This sound track was stored by another version.')
  const frames = view.getUint32(8, true)
  const hops = Math.ceil(frames / BANDS) + 1
  if (bytes.length !== HEADER_BYTES + hops * FRAME_BYTES)
    throw new CompactError('compact-damaged', 'The stored sound track is cut off or damaged.')
  const transform = new CosineTransform()
  const samples = new Float32Array((hops + 1) * BANDS)
  const bands = new Float32Array(BANDS)
  for (let hop = 0; hop < hops; hop++) {
    readFrame(bytes, HEADER_BYTES + hop * FRAME_BYTES, bands)
    transform.addInverse(bands, samples.subarray(hop * BANDS, (hop + 2) * BANDS))
  }
  return trackOf(samples.subarray(BANDS, BANDS + frames))
}

function writeFrame(bytes: Uint8Array, at: number, bands: Float32Array): void {
  for (let scale = 0; scale < SCALES; scale++) {
    const group = bands.subarray(scale * SCALE_BANDS, (scale + 1) * SCALE_BANDS)
    let peak = 0
    for (const value of group) peak = Math.max(peak, Math.abs(value))
    // Rounded up, so that the highest value fits.
    const step = peak > 0 ? Math.ceil(255 + (20 * Math.log10(peak) - SCALE_TOP_DB) / SCALE_STEP_DB) : 0
    const code = Math.max(0, Math.min(255, step))
    bytes[at + scale] = code
    if (code === 0) continue
    const factor = 127 / scaleOf(code)
    for (let k = 0; k < SCALE_BANDS; k++) {
      const value = Math.round((group[k] as number) * factor)
      bytes[at + SCALES + scale * SCALE_BANDS + k] = Math.max(-127, Math.min(127, value)) & 0xff
    }
  }
}

function readFrame(bytes: Uint8Array, at: number, bands: Float32Array): void {
  for (let scale = 0; scale < SCALES; scale++) {
    const code = bytes[at + scale] as number
    const factor = code === 0 ? 0 : scaleOf(code) / 127
    for (let k = 0; k < SCALE_BANDS; k++) {
      const byte = bytes[at + SCALES + scale * SCALE_BANDS + k] as number
      bands[scale * SCALE_BANDS + k] = (byte > 127 ? byte - 256 : byte) * factor
    }
  }
}

function scaleOf(code: number): number {
  return 10 ** ((SCALE_TOP_DB + (code - 255) * SCALE_STEP_DB) / 20)
}

/** The transform by a Fourier transform of twice the length; with a sine window, what overlaps adds up to the whole again. */
class CosineTransform {
  private readonly fft = new Fft(2 * BANDS)
  private readonly re = new Float32Array(2 * BANDS)
  private readonly im = new Float32Array(2 * BANDS)
  private readonly window = Float32Array.from({ length: 2 * BANDS }, (_, n) =>
    Math.sin((Math.PI * (n + 0.5)) / (2 * BANDS)),
  )
  /** Turns by half a bin along time, and by the offset of the cosines along frequency. */
  private readonly turn = turns(2 * BANDS, (n) => (Math.PI * n) / (2 * BANDS))
  private readonly offset = turns(BANDS, (k) => (Math.PI * (k + 0.5) * (BANDS + 1)) / (2 * BANDS))

  forward(samples: Float32Array, bands: Float32Array): void {
    const { re, im, window, turn, offset } = this
    for (let n = 0; n < 2 * BANDS; n++) {
      const value = (samples[n] as number) * (window[n] as number)
      re[n] = value * (turn.cos[n] as number)
      im[n] = -value * (turn.sin[n] as number)
    }
    this.fft.forward(re, im)
    for (let k = 0; k < BANDS; k++)
      bands[k] = (re[k] as number) * (offset.cos[k] as number) + (im[k] as number) * (offset.sin[k] as number)
  }

  /** Adds what the bands stand for to twice as many samples. */
  addInverse(bands: Float32Array, into: Float32Array): void {
    const { re, im, window, turn, offset } = this
    re.fill(0)
    im.fill(0)
    for (let k = 0; k < BANDS; k++) {
      re[k] = (bands[k] as number) * (offset.cos[k] as number)
      im[k] = (bands[k] as number) * (offset.sin[k] as number)
    }
    this.fft.inverse(re, im)
    for (let n = 0; n < 2 * BANDS; n++) {
      const value = (re[n] as number) * (turn.cos[n] as number) - (im[n] as number) * (turn.sin[n] as number)
      into[n] = (into[n] as number) + (value * (window[n] as number) * 2) / BANDS
    }
  }
}

function turns(length: number, angleOf: (index: number) => number) {
  return {
    cos: Float32Array.from({ length }, (_, index) => Math.cos(angleOf(index))),
    sin: Float32Array.from({ length }, (_, index) => Math.sin(angleOf(index))),
  }
}
