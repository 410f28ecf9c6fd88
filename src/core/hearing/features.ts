import type { Piece, PreparedSound } from './prepare'

/** Raised whenever preparing gives something else, so that stored features are made anew. */
export const FEATURES_VERSION = 3
/** Features before this version have a long sound by its loudest seconds alone: a part of it was mostly not heard. */
export const LONG_SOUNDS_SINCE = 3

const MAGIC = 0x46485447
/** Words of 32 bits: magic, version, frames, pieces, marks, side of middle, peak. */
const HEADER_WORDS = 7
/** Words for each piece: start, frames, two shares, peak. */
const PIECE_WORDS = 5

/** Stored features that cannot be used: damaged, or of another version. They can be made again from the sound. */
export class FeaturesError extends Error {
  override readonly name = 'FeaturesError'
  constructor(
    readonly code: 'features-damaged' | 'features-outdated',
    message: string,
  ) {
    super(message)
  }
}

/** A sound made ready, as bytes: 16-bit samples with a scale each. @param sound Null for one that cannot be heard for sure. */
export function encodedFeatures(sound: PreparedSound | null): Uint8Array {
  const pieces = sound?.pieces ?? []
  const frames = sound?.samples.length ?? 0
  const marks = sound?.marks ?? new Uint32Array(0)
  const words = HEADER_WORDS + pieces.length * PIECE_WORDS + marks.length
  const values = frames + pieces.reduce((sum, piece) => sum + piece.samples.length, 0)
  const bytes = new ArrayBuffer(4 * words + 2 * values)
  const view = new DataView(bytes)
  let at = 0
  const word = (value: number, kind: 'u' | 'f'): void => {
    if (kind === 'u') view.setUint32(at, value, true)
    else view.setFloat32(at, value, true)
    at += 4
  }
  const peak = peakOf(sound?.samples)
  for (const value of [MAGIC, FEATURES_VERSION, frames, pieces.length, marks.length]) word(value, 'u')
  word(sound?.sideOfMid ?? 0, 'f')
  word(peak, 'f')
  for (const piece of pieces) {
    word(piece.start, 'u')
    word(piece.samples.length, 'u')
    word(piece.lowShares[0], 'f')
    word(piece.lowShares[1], 'f')
    word(peakOf(piece.samples), 'f')
  }
  for (const mark of marks) word(mark, 'u')
  for (const samples of [sound?.samples ?? new Float32Array(0), ...pieces.map((piece) => piece.samples)]) {
    const scale = 32767 / (peakOf(samples) || 1)
    writeCodes(bytes, at, samples, scale)
    at += 2 * samples.length
  }
  return new Uint8Array(bytes)
}

/**
 * Reads stored features.
 *
 * @returns Null for a sound that cannot be heard for sure.
 * @throws {FeaturesError} features-damaged, features-outdated.
 */
export function decodedFeatures(bytes: Uint8Array): PreparedSound | null {
  const { view, frames, pieceCount, markCount } = headerOf(bytes)
  const tables = 4 * (HEADER_WORDS + pieceCount * PIECE_WORDS + markCount)
  const lengths = tables <= bytes.length ? pieceTable(view, pieceCount) : []
  const values = lengths.reduce((sum, piece) => sum + piece.frames, frames)
  if (tables + 2 * values !== bytes.length) throw damaged()
  if (frames === 0) return null
  let at = tables
  const read = (count: number, peak: number): Float32Array => {
    const samples = new Float32Array(count)
    const scale = (peak || 1) / 32767
    const codes = codesIn(bytes, at, count)
    for (let i = 0; i < count; i++) samples[i] = (codes[i] as number) * scale
    at += 2 * count
    return samples
  }
  const samples = read(frames, view.getFloat32(24, true))
  const pieces = lengths.map(
    ({ start, frames: count, lowShares, peak }): Piece => ({ start, samples: read(count, peak), lowShares }),
  )
  return { samples, sideOfMid: view.getFloat32(20, true), pieces, marks: marksOf(view, pieceCount, markCount) }
}

/**
 * Reads only the marks, by which the same recording is recognised.
 *
 * @returns Null for a sound that cannot be heard for sure. @throws {FeaturesError} features-damaged, features-outdated.
 */
export function decodedMarks(bytes: Uint8Array): Uint32Array | null {
  const { view, frames, pieceCount, markCount } = headerOf(bytes)
  if (4 * (HEADER_WORDS + pieceCount * PIECE_WORDS + markCount) > bytes.length) throw damaged()
  return frames === 0 ? null : marksOf(view, pieceCount, markCount)
}

const IS_LITTLE_ENDIAN = new Uint8Array(Uint16Array.of(1).buffer)[0] === 1

/** 16-bit numbers, low byte first, as this machine reads them. */
function codesIn(bytes: Uint8Array, at: number, count: number): Int16Array {
  const from = bytes.byteOffset + at
  if (IS_LITTLE_ENDIAN && from % 2 === 0) return new Int16Array(bytes.buffer, from, count)
  const view = new DataView(bytes.buffer, from, 2 * count)
  return Int16Array.from({ length: count }, (_, i) => view.getInt16(2 * i, true))
}

/** Writes numbers of 16 bits, low byte first. @param at Even. */
function writeCodes(bytes: ArrayBuffer, at: number, samples: Float32Array, scale: number): void {
  const codes = new Int16Array(bytes, at, samples.length)
  // Math.round takes three times as long.
  for (let n = 0; n < codes.length; n++) codes[n] = Math.floor((samples[n] as number) * scale + 0.5)
  if (IS_LITTLE_ENDIAN) return
  const view = new DataView(bytes, at)
  for (let n = 0; n < codes.length; n++) view.setInt16(2 * n, codes[n] as number, true)
}

function headerOf(bytes: Uint8Array) {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (bytes.length < 4 * HEADER_WORDS || view.getUint32(0, true) !== MAGIC)
    throw new FeaturesError('features-damaged', 'These are not the features of a sound.')
  const header = Array.from({ length: HEADER_WORDS }, (_, word) => view.getUint32(4 * word, true))
  const [, version, frames = 0, pieceCount = 0, markCount = 0] = header
  if (version !== FEATURES_VERSION)
    throw new FeaturesError('features-outdated', `These features are of version ${version}, not ${FEATURES_VERSION}.`)
  return { view, frames, pieceCount, markCount }
}

function marksOf(view: DataView, pieceCount: number, markCount: number): Uint32Array {
  const at = 4 * (HEADER_WORDS + pieceCount * PIECE_WORDS)
  return Uint32Array.from({ length: markCount }, (_, i) => view.getUint32(at + 4 * i, true))
}

function damaged(): FeaturesError {
  return new FeaturesError('features-damaged', 'The features of this sound are cut off or damaged.')
}

function pieceTable(view: DataView, count: number) {
  return Array.from({ length: count }, (_, index) => {
    const at = 4 * (HEADER_WORDS + index * PIECE_WORDS)
    return {
      start: view.getUint32(at, true),
      frames: view.getUint32(at + 4, true),
      lowShares: [view.getFloat32(at + 8, true), view.getFloat32(at + 12, true)] as const,
      peak: view.getFloat32(at + 16, true),
    }
  })
}

function peakOf(samples: Float32Array | undefined): number {
  let peak = 0
  for (let n = 0; n < (samples?.length ?? 0); n++) peak = Math.max(peak, Math.abs(samples?.[n] as number))
  return peak
}
