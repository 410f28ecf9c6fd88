import { bandEdgeHz, CELL_BANDS, CELL_HOP, CELL_SIZE, type Cells, type CellTransform, cellFrames } from './cells'
import { fadedPart, levelProfile } from './fades'
import { fittedGain, unwornGain } from './level'
import type { PreparedSound } from './prepare'
import { echoRatio } from './room'
import {
  type Agreements,
  agreements,
  type BandSums,
  bandBins,
  bandSums,
  type FrameRange,
  flatCells,
  REDUNDANCY,
} from './sums'
import type { Track } from './track'

/** What a place in the track says about a sound that lies there. */
export interface Verification {
  /** Frames of the sound that are heard: from (inclusive) to (exclusive). */
  readonly from: number
  readonly to: number
  /** Level relative to the file, linear. */
  readonly gain: number
  /** Where it is heard against the file: -1 left only, 0 as in the file, 1 right only. */
  readonly balance: number
  /** Length of straight fades at the two ends, frames; 0 for none. */
  readonly fadeIn: number
  readonly fadeOut: number
  /** Above this the sound is not heard although it should be, Hz: it was muffled. Null where all of it is there. */
  readonly cutoffHz: number | null
  /** How much more the track answers to the sound shortly after its place than shortly before; about 1 without a room. */
  readonly echoes: number
  /** Log-likelihood ratio of "the part is there" against "it is not", nats. */
  readonly evidence: number
  /** Phase agreement over bands and time, each cell's say limited, in standard deviations of chance. */
  readonly coherence: number
}

/** Agreement reads lower than the matched filter for true finds; this makes them comparable. Measured. */
export const COHERENCE_WEIGHT = 1.3
/** A band counts for so many bins at most. */
export const BAND_BINS_MAX = 8
/** What a trimmed start or end must gain in evidence before it is believed, nats. */
const TRIM_COST = 8
/** What leaving out the upper bands must gain before a sound is called muffled, nats. */
const MUFFLE_COST = 12
/** A band of the sound is covered by nothing where it should be this much of all that is there. */
const UNCOVERED_MIN = 0.7
/** What of such bands should be there, nats, before their absence says anything; and what of it is there at most when it is absent. */
const MISSING_NATS = 12
const MISSING_SHARE = 0.3
/** Numbers of bands that are tried: all, then up to 3.4, 2.2, 1.5 and 1 kHz. */
const BAND_LIMITS = [CELL_BANDS, 10, 9, 8, 7]
/** Power of the sound against all of the track at its place (-28 dB): what lies lower is not heard but computed. */
const AUDIBLE_MIN = 10 ** -2.8
/** One cell may not say more than this, in standard deviations: agreement must be spread. */
const CELL_CLAMP = 3.5
/** Displacements, frames at the hearing rate, at which the same sum is taken to learn what chance gives. */
const CHANCE_LAGS = [-9001, -6007, -4001, -2503, -1499, -701, 701, 1499, 2503, 4001, 6007, 9001]
const MARGIN = 9001 + 2 * CELL_SIZE
/** A side this many standard deviations from none is a shift of the balance. */
const BALANCE_MIN_DEVIATIONS = 4

/**
 * Verifies places for one sound. Holds the sound's cells, so make one for each sound.
 *
 * Places whose agreement is under `agreementMin` standard deviations give null.
 */
export class Verifier {
  private readonly soundCells: Cells
  private readonly frames: number

  constructor(
    private readonly transform: CellTransform,
    private readonly sound: PreparedSound,
    private readonly agreementMin: number,
  ) {
    this.frames = cellFrames(sound.samples.length)
    this.soundCells = transform.cells(sound.samples, 0, this.frames)
  }

  /**
   * Looks at the place where frame 0 of the sound falls on frame `lag` of the track (negative: it started before).
   *
   * @param hint Frames of the sound that stood out there: the level is first taken from these, since the rest may be trimmed.
   */
  verify(track: Track, lag: number, hint: FrameRange): Verification | null {
    const around = track.midSamples(lag - MARGIN, lag + this.frames * CELL_HOP + MARGIN)
    const sums = this.sumsAt(around, 0)
    const inside = this.framesInside(track, lag)
    const first = this.firstPart(sums, hint, inside)
    if (!first) return null
    const { bands } = first
    // The gain of the part alone is truer than that of the hint.
    const second = fittedGain(sums, first.part, bands)
    if (!(second.gain > 0)) return null
    const sudden = bestPart(sums, second.noise, second.gain, inside, bands)
    if (sudden.to - sudden.from < 2) return null
    const part = fadedPart(sums, second.noise, second.gain, { part: sudden, inside, bands })
    const profile = levelProfile(this.frames, part)
    const fitted = fittedGain(sums, part, bands, profile)
    if (!(fitted.gain > 0) || levelAgainstTrack(sums, fitted.gain, part, bands) < AUDIBLE_MIN) return null
    const weights = cellWeights(sums, fitted.noise, fitted.gain, part, bands)
    const here = weightedAgreement(sums, weights, part)
    // Chance never reads under one deviation here, so a weak place needs no closer look.
    if (here < this.agreementMin) return null
    // Of what is left when the sound is taken away: a tone would otherwise answer to itself at every displacement.
    const rest = remainder(around, this.sound.samples, fitted.gain, profile)
    const chance = this.chanceAround(rest, weights, part, here)
    if (chance === null) return null
    const heard = {
      from: Math.max(0, part.from * CELL_HOP),
      to: Math.min(this.sound.samples.length, part.to * CELL_HOP),
    }
    const mid = unwornGain(sums, { part, bands, profile, ...fitted })
    return {
      ...heard,
      ...this.balanced(track, lag, sums, { part, bands, profile, noise: fitted.noise, fitted: fitted.gain, mid }),
      fadeIn: part.fadeIn * CELL_HOP,
      fadeOut: part.fadeOut * CELL_HOP,
      cutoffHz:
        bands < CELL_BANDS && isMissing(sums, { part, bands, profile, ...fitted })
          ? Math.round(bandEdgeHz(bands))
          : null,
      echoes: echoRatio(rest, MARGIN, this.sound.samples, { ...heard, gain: fitted.gain }),
      evidence: sudden.evidence + part.gained,
      coherence: here / chance,
    }
  }

  /**
   * What the same sum gives at displaced places, root mean square and at least 1; null as soon as `here` cannot reach the wanted
   * agreement against it.
   */
  private chanceAround(rest: Float32Array, weights: Float32Array, part: FrameRange, here: number): number | null {
    const flat = flatCells(this.soundCells, part)
    const inside = { from: 0, to: part.to - part.from }
    let squares = 0
    for (const shift of CHANCE_LAGS) {
      squares += weightedAgreement(agreements(this.transform, rest, MARGIN + shift, flat), weights, inside) ** 2
      if (here < this.agreementMin * Math.sqrt(squares / CHANCE_LAGS.length)) return null
    }
    return Math.max(1, Math.sqrt(squares / CHANCE_LAGS.length))
  }

  /** The part with most evidence, tried with the levels of the whole hint and of its thirds, and with and without upper bands. */
  private firstPart(
    sums: BandSums,
    hint: FrameRange,
    inside: FrameRange,
  ): { readonly part: FrameRange; readonly bands: number } | null {
    const from = Math.max(inside.from, Math.floor(hint.from / CELL_HOP))
    const to = Math.min(inside.to, Math.ceil(hint.to / CELL_HOP))
    const third = Math.ceil((to - from) / 3)
    const ranges = [
      { from, to },
      ...[0, 1, 2].map((k) => ({ from: from + k * third, to: Math.min(to, from + (k + 1) * third) })),
    ].filter((range) => range.to - range.from >= 2)
    let best: { part: FrameRange; bands: number; evidence: number } | null = null
    for (const bands of BAND_LIMITS) {
      for (const range of ranges) {
        const { gain, noise } = fittedGain(sums, range, bands)
        if (!(gain > 0)) continue
        const part = bestPart(sums, noise, gain, inside, bands)
        const evidence = part.evidence - (bands < CELL_BANDS ? MUFFLE_COST : 0)
        if (!best || evidence > best.evidence) best = { part, bands, evidence }
      }
    }
    return best
  }

  private framesInside(track: Track, lag: number): FrameRange {
    return {
      from: Math.max(0, Math.ceil(-lag / CELL_HOP)),
      to: Math.min(this.frames, Math.floor((track.frames - lag) / CELL_HOP) + 1),
    }
  }

  private sumsAt(around: Float32Array, shift: number): BandSums {
    return bandSums(this.transform.cells(around, MARGIN + shift, this.frames), this.soundCells)
  }

  /** Level and balance from the side channel: its projection on the sound tells how far left and right differ. */
  private balanced(
    track: Track,
    lag: number,
    sums: BandSums,
    {
      part,
      bands,
      profile,
      noise,
      fitted,
      mid,
    }: {
      readonly part: FrameRange
      readonly bands: number
      readonly profile: Float32Array
      readonly noise: Float32Array
      readonly fitted: number
      readonly mid: number
    },
  ): { readonly gain: number; readonly balance: number } {
    if (!track.side) return { gain: mid, balance: 0 }
    const around = track.sideSamples(lag - CELL_SIZE, lag + this.frames * CELL_HOP + CELL_SIZE)
    const side = bandSums(this.transform.cells(around, CELL_SIZE, this.frames), this.soundCells)
    let above = 0
    let below = 1e-12
    for (let frame = part.from; frame < part.to; frame++) {
      const level = profile[frame] as number
      for (let band = 0; band < bands; band++) {
        const i = frame * CELL_BANDS + band
        above += (level * (side.cross[i] as number)) / (noise[i] as number)
        below += (level * level * (sums.soundPower[i] as number)) / (noise[i] as number)
      }
    }
    const own = this.sound.sideOfMid
    const excess = above / below - own * fitted
    const deviation = Math.sqrt(REDUNDANCY / (2 * below))
    if (Math.abs(excess) < BALANCE_MIN_DEVIATIONS * deviation || Math.abs(excess) < 0.03 * fitted)
      return { gain: mid, balance: 0 }
    const scale = mid / fitted
    const left = Math.max(0, (fitted + above / below) / Math.max(0.1, 1 + own)) * scale
    const right = Math.max(0, (fitted - above / below) / Math.max(0.1, 1 - own)) * scale
    return { gain: Math.sqrt((left * left + right * right) / 2), balance: (right - left) / (left + right || 1) }
  }
}

/**
 * Whether what should be heard above the bands that answer is not there, though nothing could have covered it. A codec leaves out what is covered; a sound that
 * was muffled is missing where it would be the loudest thing, too.
 */
function isMissing(
  sums: BandSums,
  {
    part,
    bands,
    profile,
    gain,
    noise,
  }: {
    readonly part: FrameRange
    readonly bands: number
    readonly profile: Float32Array
    readonly gain: number
    readonly noise: Float32Array
  },
): boolean {
  let heard = 0
  let expected = 0
  for (let frame = part.from; frame < part.to; frame++) {
    const level = gain * (profile[frame] as number)
    for (let band = bands; band < CELL_BANDS; band++) {
      const i = frame * CELL_BANDS + band
      const power = level * level * (sums.soundPower[i] as number)
      if (power < UNCOVERED_MIN * (sums.trackPower[i] as number)) continue
      heard += (level * (sums.cross[i] as number)) / (noise[i] as number)
      expected += power / (noise[i] as number)
    }
  }
  return expected > MISSING_NATS && heard < MISSING_SHARE * expected
}

/** Power that the sound has at this gain, as a fraction of the track's power over the part. */
function levelAgainstTrack(sums: BandSums, gain: number, part: FrameRange, bands: number): number {
  let sound = 0
  let track = 1e-12
  for (let frame = part.from; frame < part.to; frame++) {
    for (let band = 0; band < CELL_BANDS; band++) {
      const i = frame * CELL_BANDS + band
      if (band < bands) sound += gain * gain * (sums.soundPower[i] as number)
      track += sums.trackPower[i] as number
    }
  }
  return sound / track
}

/** The stretch of frames with most evidence; giving up the start or the end of the sound must be worth its cost. */
function bestPart(
  sums: BandSums,
  noise: Float32Array,
  gain: number,
  inside: FrameRange,
  bands: number,
): FrameRange & { readonly evidence: number } {
  const cumulative = [0]
  for (let frame = inside.from; frame < inside.to; frame++) {
    let ratio = 0
    for (let band = 0; band < bands; band++) {
      const i = frame * CELL_BANDS + band
      const cross = sums.cross[i] as number
      const power = sums.soundPower[i] as number
      ratio += (2 * gain * cross - gain * gain * power) / (noise[i] as number)
    }
    cumulative.push((cumulative[cumulative.length - 1] as number) + ratio / REDUNDANCY)
  }
  let best = { from: inside.from, to: inside.to, evidence: Number.NEGATIVE_INFINITY }
  let lowest = cumulative[0] as number
  let lowestAt = 0
  for (let end = 1; end < cumulative.length; end++) {
    const cost = end === cumulative.length - 1 ? 0 : TRIM_COST
    const evidence = (cumulative[end] as number) - lowest - cost
    if (evidence > best.evidence) best = { from: inside.from + lowestAt, to: inside.from + end, evidence }
    const start = (cumulative[end] as number) + TRIM_COST
    if (start < lowest) {
      lowest = start
      lowestAt = end
    }
  }
  return best
}

/** How strongly each band of each segment should agree if the sound is there at this gain: 0 to 1. */
function cellWeights(sums: BandSums, noise: Float32Array, gain: number, part: FrameRange, bands: number): Float32Array {
  const weights = new Float32Array(segmentCount(part) * CELL_BANDS)
  eachSegment(part, (segment, from, to) => {
    for (let band = 0; band < bands; band++) {
      let ratio = 0
      for (let frame = from; frame < to; frame++) {
        const i = frame * CELL_BANDS + band
        const snr = (gain * gain * (sums.soundPower[i] as number)) / ((noise[i] as number) * bandBins(band))
        ratio += snr / (1 + snr)
      }
      weights[segment * CELL_BANDS + band] = Math.sqrt((ratio / (to - from)) * Math.min(BAND_BINS_MAX, bandBins(band)))
    }
  })
  return weights
}

function weightedAgreement(sums: Agreements, weights: Float32Array, part: FrameRange): number {
  let total = 0
  let norm = 1e-9
  eachSegment(part, (segment, from, to) => {
    for (let band = 0; band < CELL_BANDS; band++) {
      let agreement = 0
      let variance = 1e-9
      for (let frame = from; frame < to; frame++) {
        agreement += sums.agreement[frame * CELL_BANDS + band] as number
        variance += sums.agreementVariance[frame * CELL_BANDS + band] as number
      }
      const weight = weights[segment * CELL_BANDS + band] as number
      const deviations = agreement / Math.sqrt(variance * REDUNDANCY)
      total += weight * Math.max(-CELL_CLAMP, Math.min(CELL_CLAMP, deviations))
      norm += weight * weight
    }
  })
  return total / Math.sqrt(norm)
}

function segmentCount(part: FrameRange): number {
  // About 0.15 s a segment, at least 4 where there are frames for it, at most 24.
  const frames = part.to - part.from
  return Math.max(1, Math.min(24, Math.max(Math.min(4, Math.floor(frames / 2)), Math.round(frames / 10))))
}

function eachSegment(part: FrameRange, visit: (segment: number, from: number, to: number) => void): void {
  const count = segmentCount(part)
  for (let segment = 0; segment < count; segment++) {
    const from = part.from + Math.floor((segment * (part.to - part.from)) / count)
    const to = part.from + Math.floor(((segment + 1) * (part.to - part.from)) / count)
    visit(segment, from, to)
  }
}

/** What is left around a place when the sound is taken away at the level that was found. */
function remainder(around: Float32Array, sound: Float32Array, gain: number, profile: Float32Array): Float32Array {
  const rest = around.slice()
  for (let n = 0; n < sound.length; n++) {
    const level = gain * (profile[Math.floor(n / CELL_HOP)] ?? 0)
    rest[MARGIN + n] = (rest[MARGIN + n] as number) - level * (sound[n] as number)
  }
  return rest
}
