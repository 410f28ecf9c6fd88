import { coarser, PEAK_FRAMES, peakLevelFor } from '../../core/audio/peaks'

/** The waveform of a track at any zoom. */
export interface PeakSource {
  /**
   * Lowest and highest for each of some columns, -1 to 1, as far as it is here; what is not is fetched, and told of.
   *
   * @returns Pairs, one for each column; null while nothing of it is here.
   */
  columns(startS: number, endS: number, count: number): Float32Array | null
  /** Single samples where the map is so close that they are seen; null where it is not, or they are not here yet. */
  samples(
    startS: number,
    endS: number,
    widthPx: number,
  ): { readonly values: Float32Array; readonly firstS: number; readonly rateHz: number; readonly scale: number } | null
  subscribe(listener: () => void): () => void
}

/** Pairs that are fetched at once. */
const PIECE_PAIRS = 4096
/** Pieces that are held. */
const PIECES_MAX = 400
/** Fewer frames a pixel than this are drawn from samples. */
const SAMPLES_BELOW_FRAMES = 16
const SAMPLE_PIECE_S = 1

interface PeakInfo {
  readonly sampleRateHz: number
  readonly lengthFrames: number
  /** Pairs in each level. */
  readonly levels: readonly number[]
}

/** Single samples stand for a level of their own. */
const SAMPLES_LEVEL = 255

/** A number: thousands of pieces are looked up for every frame that is drawn. */
function pieceKey(level: number, index: number): number {
  return level * 2 ** 40 + index
}

/** Peaks that are fetched in pieces as they are looked at. */
export class RemotePeaks implements PeakSource {
  private readonly pieces = new Map<number, Int8Array | Float32Array | 'asked'>()
  private readonly listeners = new Set<() => void>()

  constructor(
    private readonly info: PeakInfo,
    /** @returns Bytes of a piece. Rejects when they cannot be had. */
    private readonly fetchPairs: (level: number, from: number, count: number) => Promise<ArrayBuffer>,
    private readonly fetchSamples: (startS: number, endS: number) => Promise<ArrayBuffer>,
    /** What is drawn is so many times as high: the tallest of a track fills the height. */
    private readonly scale = 1,
  ) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  columns(startS: number, endS: number, count: number): Float32Array | null {
    const { sampleRateHz, levels } = this.info
    const framesPerPx = ((endS - startS) * sampleRateHz) / count
    const wanted = peakLevelFor(framesPerPx, levels.length)
    const out = new Float32Array(2 * count)
    let any = false
    for (let column = 0; column < count; column++) {
      const fromFrame = startS * sampleRateHz + column * framesPerPx
      const pair = this.pairOver(wanted, fromFrame, framesPerPx)
      if (!pair) continue
      any = true
      out[2 * column] = (this.scale * pair[0]) / 127
      out[2 * column + 1] = (this.scale * pair[1]) / 127
    }
    return any ? out : null
  }

  /** Lowest and highest over some frames, from the finest level that is here and not finer than wanted. */
  private pairOver(level: number, fromFrame: number, frames: number): readonly [number, number] | null {
    const { levels, lengthFrames } = this.info
    if (fromFrame >= lengthFrames || fromFrame + frames < 0) return null
    for (let at = level; at < levels.length; at++) {
      const each = PEAK_FRAMES * 2 ** at
      const first = Math.max(0, Math.floor(fromFrame / each))
      const last = Math.min((levels[at] as number) - 1, Math.max(first, Math.ceil((fromFrame + frames) / each) - 1))
      let low = 127
      let high = -127
      let isHere = true
      for (let pair = first; pair <= last; pair++) {
        const piece = this.piece(at, Math.floor(pair / PIECE_PAIRS), at === level)
        if (!piece) {
          isHere = false
          break
        }
        const index = 2 * (pair % PIECE_PAIRS)
        low = Math.min(low, piece[index] ?? 0)
        high = Math.max(high, piece[index + 1] ?? 0)
      }
      if (isHere) return [low, high]
    }
    return null
  }

  private piece(level: number, index: number, isWanted: boolean): Int8Array | null {
    const key = pieceKey(level, index)
    const known = this.pieces.get(key)
    if (known instanceof Int8Array) return known
    if (known === undefined && isWanted)
      this.ask(key, this.fetchPairs(level, index * PIECE_PAIRS, PIECE_PAIRS), (bytes) => new Int8Array(bytes))
    return null
  }

  samples(startS: number, endS: number, widthPx: number) {
    const { sampleRateHz, lengthFrames } = this.info
    if (((endS - startS) * sampleRateHz) / widthPx >= SAMPLES_BELOW_FRAMES) return null
    // Two pieces at most are in view: they overlap by one.
    const index = Math.max(0, Math.floor(startS / (SAMPLE_PIECE_S / 2)))
    const firstS = index * (SAMPLE_PIECE_S / 2)
    const key = pieceKey(SAMPLES_LEVEL, index)
    const known = this.pieces.get(key)
    if (known instanceof Float32Array) return { values: known, firstS, rateHz: sampleRateHz, scale: this.scale }
    const lastS = Math.min(lengthFrames / sampleRateHz, firstS + SAMPLE_PIECE_S)
    if (known === undefined && lastS > firstS)
      this.ask(key, this.fetchSamples(firstS, lastS), (bytes) => new Float32Array(bytes))
    return null
  }

  private ask(key: number, answer: Promise<ArrayBuffer>, read: (bytes: ArrayBuffer) => Int8Array | Float32Array): void {
    this.pieces.set(key, 'asked')
    answer.then(
      (bytes) => {
        if (this.pieces.size > PIECES_MAX) this.pieces.delete(this.pieces.keys().next().value as number)
        this.pieces.set(key, read(bytes))
        for (const listener of this.listeners) listener()
      },
      // It is asked for again when it is looked at next.
      () => this.pieces.delete(key),
    )
  }
}

/** Peaks that are all here: a fixed number of columns a second, with coarser ones made from them. */
export class LocalPeaks implements PeakSource {
  private readonly levels: Int8Array[]
  private readonly scale: number

  /** @param pairs Lowest and highest of each column, -127 to 127. */
  constructor(
    pairs: Int8Array,
    private readonly columnsPerS: number,
  ) {
    this.levels = [pairs]
    for (let last = pairs; last.length > 1024; ) {
      last = coarser(last)
      this.levels.push(last)
    }
    // The tallest column fills the height: the picture is for finding places, the loudness line tells the level.
    this.scale = 1 / Math.max(1, ...Array.from(this.levels[this.levels.length - 1] ?? [], Math.abs))
  }

  columns(startS: number, endS: number, count: number): Float32Array | null {
    const perPx = ((endS - startS) * this.columnsPerS) / count
    const level = Math.max(0, Math.min(this.levels.length - 1, Math.floor(Math.log2(Math.max(1, perPx)))))
    const pairs = this.levels[level] as Int8Array
    const each = 2 ** level / this.columnsPerS
    const out = new Float32Array(2 * count)
    for (let column = 0; column < count; column++) {
      const fromS = startS + (column * (endS - startS)) / count
      const first = Math.floor(fromS / each)
      const last = Math.max(first, Math.ceil((fromS + (endS - startS) / count) / each) - 1)
      let low = 127
      let high = -127
      for (let pair = Math.max(0, first); pair <= last && 2 * pair + 1 < pairs.length; pair++) {
        low = Math.min(low, pairs[2 * pair] as number)
        high = Math.max(high, pairs[2 * pair + 1] as number)
      }
      if (high < low) continue
      out[2 * column] = low * this.scale
      out[2 * column + 1] = high * this.scale
    }
    return out
  }

  samples(): null {
    return null
  }

  subscribe(): () => void {
    return () => {}
  }
}
