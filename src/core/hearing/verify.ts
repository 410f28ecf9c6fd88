import { BAND_STARTS, BIN_COUNT, CELL_BANDS, CELL_HOP, type Cells, type CellTransform, cellFrames } from './cells'

/** What a place in the track says about a sound that may lie there. */
export interface Verification {
  /** Frames of the sound that are heard: from (inclusive) to (exclusive). */
  readonly from: number
  readonly to: number
  /** Level relative to the file, linear. */
  readonly gain: number
  /** Log-likelihood ratio of "the part is there" against "it is not", nats. */
  readonly evidence: number
  /** Phase agreement over bands and time, each cell's say limited, in standard deviations of chance. */
  readonly coherence: number
}

/** From (inclusive) to (exclusive). */
export interface FrameRange {
  readonly from: number
  readonly to: number
}

/** Sums over the bins of one band in one frame, for all bands and frames. */
interface BandSums {
  /** Real part of track times conjugate sound. */
  readonly cross: Float32Array
  readonly soundPower: Float32Array
  readonly trackPower: Float32Array
  /** Phase agreement weighted by the sound's flattened magnitude, and its variance by chance. */
  readonly agreement: Float32Array
  readonly agreementVariance: Float32Array
}

/** Frames of 64 ms every 16 ms tell the same thing this many times over (Hann window, time and bins). */
const REDUNDANCY = 3.7
/** The noise around a cell is averaged over this many frames to each side. */
const NOISE_SPAN = 6
/** What a trimmed start or end must gain in evidence before it is believed, nats. */
const TRIM_COST = 8
/** Rounds of estimating gain and noise in turn; the third moves the gain by under 0.1 dB. */
const GAIN_ROUNDS = 4
/** How much more the cells count in which the sound leads. Measured on AAC at 128 kbit/s: 0.5 halves the tail of the codec's bias and leaves the parts as they are. */
const LEAD_EXPONENT = 0.5
/** Power of the sound against all of the track at its place (-28 dB): what lies lower is not heard but computed. */
const AUDIBLE_MIN = 10 ** -2.8
/** One cell may not say more than this, in standard deviations: agreement must be spread. */
const CELL_CLAMP = 3.5
/** Displacements, frames at the hearing rate, at which the same sum is taken to learn what chance gives. */
const CHANCE_LAGS = [-9001, -6007, -4001, -2503, -1499, -701, 701, 1499, 2503, 4001, 6007, 9001]

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
    private readonly sound: Float32Array,
    private readonly agreementMin: number,
  ) {
    this.frames = cellFrames(sound.length)
    this.soundCells = transform.cells(sound, 0, this.frames)
  }

  /**
   * Looks at the place where frame 0 of the sound falls on frame `lag` of the track (negative: it started before).
   *
   * @param hint Frames of the sound that stood out there: the level is first taken from these, since the rest may be trimmed.
   */
  verify(track: Float32Array, lag: number, hint: FrameRange): Verification | null {
    const sums = this.sumsAt(track, lag)
    const inside = this.framesInside(track, lag)
    const first = this.firstPart(sums, hint, inside)
    if (!first) return null
    // The gain of the part alone is truer than that of the hint.
    const second = fittedGain(sums, this.frames, first)
    if (!(second.gain > 0)) return null
    const part = bestPart(sums, second.noise, second.gain, inside)
    if (part.to - part.from < 2) return null
    const final = fittedGain(sums, this.frames, part)
    if (!(final.gain > 0) || levelAgainstTrack(sums, final.gain, part) < AUDIBLE_MIN) return null
    const weights = cellWeights(sums, final.noise, final.gain, part)
    const here = weightedAgreement(sums, weights, part)
    // Chance never reads under one deviation here, so a weak place needs no closer look.
    if (here < this.agreementMin) return null
    const chance = CHANCE_LAGS.map((shift) => weightedAgreement(this.sumsAt(track, lag + shift), weights, part))
    return {
      from: Math.max(0, part.from * CELL_HOP),
      to: Math.min(this.sound.length, part.to * CELL_HOP),
      gain: final.gain,
      evidence: part.evidence,
      coherence: here / Math.max(1, rootMeanSquare(chance)),
    }
  }

  /** The part with most evidence, tried with the levels of the whole hint and of its thirds: an end of it may be missing. */
  private firstPart(sums: BandSums, hint: FrameRange, inside: FrameRange): FrameRange | null {
    const from = Math.max(inside.from, Math.floor(hint.from / CELL_HOP))
    const to = Math.min(inside.to, Math.ceil(hint.to / CELL_HOP))
    const third = Math.ceil((to - from) / 3)
    const ranges = [
      { from, to },
      ...[0, 1, 2].map((k) => ({ from: from + k * third, to: Math.min(to, from + (k + 1) * third) })),
    ]
    let best: { part: FrameRange; evidence: number } | null = null
    for (const range of ranges) {
      if (range.to - range.from < 2) continue
      const { gain, noise } = fittedGain(sums, this.frames, range)
      if (!(gain > 0)) continue
      const part = bestPart(sums, noise, gain, inside)
      if (!best || part.evidence > best.evidence) best = { part, evidence: part.evidence }
    }
    return best?.part ?? null
  }

  private framesInside(track: Float32Array, lag: number): FrameRange {
    return {
      from: Math.max(0, Math.ceil(-lag / CELL_HOP)),
      to: Math.min(this.frames, Math.floor((track.length - lag) / CELL_HOP) + 1),
    }
  }

  private sumsAt(track: Float32Array, lag: number): BandSums {
    return bandSums(this.transform.cells(track, lag, this.frames), this.soundCells)
  }
}

function bandSums(track: Cells, sound: Cells): BandSums {
  const length = sound.frames * CELL_BANDS
  const sums: BandSums = {
    cross: new Float32Array(length),
    soundPower: new Float32Array(length),
    trackPower: new Float32Array(length),
    agreement: new Float32Array(length),
    agreementVariance: new Float32Array(length),
  }
  for (let frame = 0; frame < sound.frames; frame++) {
    for (let band = 0; band < CELL_BANDS; band++) {
      let cross = 0
      let soundPower = 0
      let trackPower = 0
      let agreement = 0
      let variance = 0
      const end = frame * BIN_COUNT + (BAND_STARTS[band + 1] as number)
      for (let i = frame * BIN_COUNT + (BAND_STARTS[band] as number); i < end; i++) {
        const xr = track.re[i] as number
        const xi = track.im[i] as number
        const sr = sound.re[i] as number
        const si = sound.im[i] as number
        const product = xr * sr + xi * si
        const x = xr * xr + xi * xi
        const s = sr * sr + si * si
        cross += product
        soundPower += s
        trackPower += x
        if (x <= 1e-12 || s <= 1e-12) continue
        const weight = Math.sqrt(Math.sqrt(Math.sqrt(s)))
        agreement += (weight * product) / Math.sqrt(x * s)
        variance += (weight * weight) / 2
      }
      const at = frame * CELL_BANDS + band
      sums.cross[at] = cross
      sums.soundPower[at] = soundPower
      sums.trackPower[at] = trackPower
      sums.agreement[at] = agreement
      sums.agreementVariance[at] = variance
    }
  }
  return sums
}

/** Power that the sound has at this gain, as a fraction of the track's power over the part. */
function levelAgainstTrack(sums: BandSums, gain: number, part: FrameRange): number {
  let sound = 0
  let track = 1e-12
  for (let i = part.from * CELL_BANDS; i < part.to * CELL_BANDS; i++) {
    sound += gain * gain * (sums.soundPower[i] as number)
    track += sums.trackPower[i] as number
  }
  return sound / track
}

/** Weighted least squares for the gain, with the noise of each cell taken from what the gain leaves over. */
function fittedGain(sums: BandSums, frames: number, part: FrameRange): { gain: number; noise: Float32Array } {
  let gain = 0
  let noise = smoothedNoise(sums, frames, 0)
  for (let round = 0; round < GAIN_ROUNDS; round++) {
    let above = 0
    let below = 0
    for (let i = part.from * CELL_BANDS; i < part.to * CELL_BANDS; i++) {
      const spread = (noise[i] as number) * bandBins(i % CELL_BANDS)
      const expected = gain * gain * (sums.soundPower[i] as number)
      // A codec wears down what is masked, so the cells in which the sound leads say most about its level.
      const lead = gain > 0 ? expected / (expected + spread) : 1
      const weight = lead ** LEAD_EXPONENT / (noise[i] as number)
      above += (sums.cross[i] as number) * weight
      below += (sums.soundPower[i] as number) * weight
    }
    gain = below > 0 ? above / below : 0
    if (!(gain > 0)) break
    noise = smoothedNoise(sums, frames, gain)
  }
  return { gain, noise }
}

/** Power left in each cell, averaged over the frames around it; per band, with a floor far under the track's level. */
function smoothedNoise(sums: BandSums, frames: number, gain: number): Float32Array {
  const noise = new Float32Array(frames * CELL_BANDS)
  for (let band = 0; band < CELL_BANDS; band++) {
    let total = 0
    const rest = new Float64Array(frames + 1)
    for (let frame = 0; frame < frames; frame++) {
      const i = frame * CELL_BANDS + band
      const left =
        (sums.trackPower[i] as number) -
        2 * gain * (sums.cross[i] as number) +
        gain * gain * (sums.soundPower[i] as number)
      rest[frame + 1] = (rest[frame] as number) + Math.max(left, 1e-3 * (sums.trackPower[i] as number))
      total += sums.trackPower[i] as number
    }
    const floor = (1e-5 * total) / frames + 1e-9
    for (let frame = 0; frame < frames; frame++) {
      const from = Math.max(0, frame - NOISE_SPAN)
      const to = Math.min(frames, frame + NOISE_SPAN + 1)
      const mean = ((rest[to] as number) - (rest[from] as number)) / (to - from)
      noise[frame * CELL_BANDS + band] = (mean + floor) / bandBins(band)
    }
  }
  return noise
}

function bandBins(band: number): number {
  return (BAND_STARTS[band + 1] as number) - (BAND_STARTS[band] as number)
}

/** The stretch of frames with most evidence; giving up the start or the end of the sound must be worth its cost. */
function bestPart(
  sums: BandSums,
  noise: Float32Array,
  gain: number,
  inside: FrameRange,
): FrameRange & { readonly evidence: number } {
  const cumulative = [0]
  for (let frame = inside.from; frame < inside.to; frame++) {
    let ratio = 0
    for (let band = 0; band < CELL_BANDS; band++) {
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

/** How strongly each band of each quarter should agree if the sound is there at this gain: 0 to 1. */
function cellWeights(sums: BandSums, noise: Float32Array, gain: number, part: FrameRange): Float32Array {
  const weights = new Float32Array(segmentCount(part) * CELL_BANDS)
  eachSegment(part, (segment, from, to) => {
    for (let band = 0; band < CELL_BANDS; band++) {
      let ratio = 0
      for (let frame = from; frame < to; frame++) {
        const i = frame * CELL_BANDS + band
        const snr = (gain * gain * (sums.soundPower[i] as number)) / ((noise[i] as number) * bandBins(band))
        ratio += snr / (1 + snr)
      }
      weights[segment * CELL_BANDS + band] = Math.sqrt((ratio / (to - from)) * Math.min(8, bandBins(band)))
    }
  })
  return weights
}

function weightedAgreement(sums: BandSums, weights: Float32Array, part: FrameRange): number {
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

function rootMeanSquare(values: readonly number[]): number {
  return Math.sqrt(values.reduce((sum, value) => sum + value * value, 0) / Math.max(1, values.length))
}
