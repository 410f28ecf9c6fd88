import { Fft } from '../audio/fft'
import { HEARING_RATE_HZ } from './constants'
import { compand, Track } from './track'

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
const HALF = BANDS / 2
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
  const hops = hopsOf(track.frames)
  const bytes = new Uint8Array(HEADER_BYTES + hops * FRAME_BYTES)
  const view = new DataView(bytes.buffer)
  view.setUint32(0, MAGIC, true)
  view.setUint32(4, COMPACT_VERSION, true)
  view.setUint32(8, track.frames, true)
  view.setUint32(12, HEARING_RATE_HZ, true)
  const transform = new CosineTransform()
  const samples = new Float32Array(2 * BANDS)
  const bands = new Float32Array(BANDS)
  for (let hop = 0; hop < hops; hop++) {
    track.midInto(samples, (hop - 1) * BANDS)
    transform.forward(samples, bands)
    writeFrame(bytes, HEADER_BYTES + hop * FRAME_BYTES, bands)
  }
  return bytes
}

/** How many frames a compact track holds. @throws {CompactError} compact-damaged, compact-outdated. */
export function compactFrames(bytes: Uint8Array): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (bytes.length < HEADER_BYTES || view.getUint32(0, true) !== MAGIC)
    throw new CompactError('compact-damaged', 'This is not a stored sound track.')
  if (view.getUint32(4, true) !== COMPACT_VERSION || view.getUint32(12, true) !== HEARING_RATE_HZ)
    throw new CompactError('compact-outdated', 'This sound track was stored by another version.')
  const frames = view.getUint32(8, true)
  if (bytes.length !== HEADER_BYTES + hopsOf(frames) * FRAME_BYTES)
    throw new CompactError('compact-damaged', 'The stored sound track is cut off or damaged.')
  return frames
}

/**
 * Reads a compact track.
 *
 * @param mid Filled, as many codes as `compactFrames` says, for instance in shared memory.
 * @throws {CompactError} compact-damaged, compact-outdated.
 */
export function expandedTrack(bytes: Uint8Array, mid: Int16Array = new Int16Array(compactFrames(bytes))): Track {
  const frames = compactFrames(bytes)
  const codes = new Int8Array(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const transform = new CosineTransform()
  const bands = new Float32Array(BANDS)
  const samples = new Float32Array(2 * BANDS)
  for (let hop = 0; hop < hopsOf(frames); hop++) {
    readFrame(bytes, codes, HEADER_BYTES + hop * FRAME_BYTES, bands)
    transform.addInverse(bands, samples)
    // The first half has all that overlaps there; what comes before the track is not of it.
    const at = (hop - 1) * BANDS
    if (hop > 0) compand(samples.subarray(0, Math.min(BANDS, frames - at)), mid, at)
    samples.copyWithin(0, BANDS)
    samples.fill(0, BANDS)
  }
  return new Track(mid, null, frames)
}

function hopsOf(frames: number): number {
  return Math.ceil(frames / BANDS) + 1
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

/** @param codes The bytes again, with their signs. */
function readFrame(bytes: Uint8Array, codes: Int8Array, at: number, bands: Float32Array): void {
  for (let scale = 0, k = 0; scale < SCALES; scale++) {
    const code = bytes[at + scale] as number
    const factor = code === 0 ? 0 : scaleOf(code) / 127
    for (const end = k + SCALE_BANDS; k < end; k++) bands[k] = (codes[at + SCALES + k] as number) * factor
  }
}

/** What each code of a scale stands for. */
const SCALE_VALUES = Float64Array.from(
  { length: 256 },
  (_, code) => 10 ** ((SCALE_TOP_DB + (code - 255) * SCALE_STEP_DB) / 20),
)

function scaleOf(code: number): number {
  return SCALE_VALUES[code] as number
}

/**
 * The transform; with a sine window, what overlaps adds up to the whole again. Its 1,024 samples are folded to 512, of which a cosine transform of the fourth
 * kind is made by a Fourier transform of 256 (after Malvar, Signal Processing with Lapped Transforms, 1992).
 */
export class CosineTransform {
  private readonly fft = new Fft(HALF)
  private readonly re = new Float32Array(HALF)
  private readonly im = new Float32Array(HALF)
  private readonly folded = new Float32Array(BANDS)
  private readonly window = Float32Array.from({ length: 2 * BANDS }, (_, n) =>
    Math.sin((Math.PI * (n + 0.5)) / (2 * BANDS)),
  )
  private readonly cos = Float32Array.from({ length: HALF }, (_, n) => Math.cos((Math.PI * (8 * n + 1)) / (8 * BANDS)))
  private readonly sin = Float32Array.from({ length: HALF }, (_, n) => Math.sin((Math.PI * (8 * n + 1)) / (8 * BANDS)))

  /** @param samples 1,024 of them. @param bands Filled, 512. */
  forward(samples: Float32Array, bands: Float32Array): void {
    const { window, folded } = this
    const windowed = (n: number): number => (samples[n] as number) * (window[n] as number)
    for (let n = 0; n < HALF; n++) {
      folded[n] = -windowed(3 * HALF - 1 - n) - windowed(3 * HALF + n)
      folded[HALF + n] = windowed(n) - windowed(BANDS - 1 - n)
    }
    this.fourthKind(folded, bands)
  }

  /** Adds what the bands stand for to twice as many samples. */
  addInverse(bands: Float32Array, into: Float32Array): void {
    const { window, folded } = this
    this.fourthKind(bands, folded)
    const add = (n: number, value: number): void => {
      into[n] = (into[n] as number) + (value * (window[n] as number) * 2) / BANDS
    }
    for (let n = 0; n < HALF; n++) {
      add(n, folded[HALF + n] as number)
      add(BANDS - 1 - n, -(folded[HALF + n] as number))
      add(3 * HALF - 1 - n, -(folded[n] as number))
      add(3 * HALF + n, -(folded[n] as number))
    }
  }

  /** X[k] = sum of x[n] cos(pi / 512 (n + 1/2) (k + 1/2)). */
  private fourthKind(from: Float32Array, into: Float32Array): void {
    const { re, im, cos, sin } = this
    for (let n = 0; n < HALF; n++) {
      const [even, odd] = [from[2 * n] as number, from[BANDS - 1 - 2 * n] as number]
      const [c, s] = [cos[n] as number, sin[n] as number]
      re[n] = even * c + odd * s
      im[n] = odd * c - even * s
    }
    this.fft.forward(re, im)
    for (let k = 0; k < HALF; k++) {
      const [real, imaginary] = [re[k] as number, im[k] as number]
      const [c, s] = [cos[k] as number, sin[k] as number]
      into[2 * k] = real * c + imaginary * s
      into[BANDS - 1 - 2 * k] = real * s - imaginary * c
    }
  }
}
