import {
  BAND_STARTS,
  BIN_COUNT,
  CELL_BANDS,
  CELL_HOP,
  CELL_SIZE,
  type Cells,
  type CellTransform,
  FIRST_BIN,
} from './cells'

/** From (inclusive) to (exclusive). */
export interface FrameRange {
  readonly from: number
  readonly to: number
}

/** Sums over the bins of one band in one frame, for all bands and frames. */
export interface BandSums {
  readonly frames: number
  /** Real part of track times conjugate sound. */
  readonly cross: Float32Array
  readonly soundPower: Float32Array
  readonly trackPower: Float32Array
  /** Phase agreement weighted by the sound's flattened magnitude, and its variance by chance. */
  readonly agreement: Float32Array
  readonly agreementVariance: Float32Array
}

/** Frames of 64 ms every 16 ms tell the same thing this many times over (Hann window, time and bins). */
export const REDUNDANCY = 3.7
/** What the phase of a cell of this power weighs. */
export function phaseWeight(power: number): number {
  return Math.sqrt(Math.sqrt(Math.sqrt(power)))
}

/** The noise around a cell is averaged over this many frames to each side. */
const NOISE_SPAN = 6

/** Phase agreement over the bins of one band in one frame, and its variance by chance. */
export type Agreements = Pick<BandSums, 'agreement' | 'agreementVariance'>

/** Cells of a sound with their magnitude flattened to its fourth root's root: what the phases of a track are compared with. */
export interface FlatCells {
  readonly range: FrameRange
  readonly re: Float32Array
  readonly im: Float32Array
  /** For each band and frame. */
  readonly variance: Float32Array
}

/** @param range Frames of the sound that are wanted. */
export function flatCells(sound: Cells, range: FrameRange): FlatCells {
  const first = range.from * BIN_COUNT
  const re = sound.re.slice(first, range.to * BIN_COUNT)
  const im = sound.im.slice(first, range.to * BIN_COUNT)
  const variance = new Float32Array((range.to - range.from) * CELL_BANDS)
  for (let row = 0; row < variance.length; row++) {
    const frame = Math.floor(row / CELL_BANDS)
    const band = row % CELL_BANDS
    let sum = 0
    const end = frame * BIN_COUNT + (BAND_STARTS[band + 1] as number)
    for (let i = frame * BIN_COUNT + (BAND_STARTS[band] as number); i < end; i++) {
      const power = (re[i] as number) ** 2 + (im[i] as number) ** 2
      const weight = power > 1e-12 ? phaseWeight(power) : 0
      const scale = weight > 0 ? weight / Math.sqrt(power) : 0
      re[i] = (re[i] as number) * scale
      im[i] = (im[i] as number) * scale
      sum += (weight * weight) / 2
    }
    variance[row] = sum
  }
  return { range, re, im, variance }
}

/**
 * How the phases of a stretch of track agree with those of a sound, from frame `range.from` of the sound on: the same figures as
 * `bandSums` gives, without the others and without keeping the track's cells.
 *
 * @param start Sample of `around` on which frame 0 of the sound falls.
 */
export function agreements(
  transform: CellTransform,
  around: Float32Array,
  start: number,
  { range, re, im, variance }: FlatCells,
): Agreements {
  const agreement = new Float32Array(variance.length)
  const agreementVariance = variance.slice()
  const frames = range.to - range.from
  for (let frame = 0; frame < frames; frame += 2) {
    const both = transform.pair(around, start + (range.from + frame) * CELL_HOP)
    for (let second = 0; second < Math.min(2, frames - frame); second++)
      for (let band = 0; band < CELL_BANDS; band++) {
        const row = (frame + second) * CELL_BANDS + band
        let sum = 0
        let silent = 0
        const end = BAND_STARTS[band + 1] as number
        for (let bin = BAND_STARTS[band] as number; bin < end; bin++) {
          const k = bin + FIRST_BIN
          const m = CELL_SIZE - k
          const zr = both.re[k] as number
          const zi = both.im[k] as number
          const yr = both.re[m] as number
          const yi = both.im[m] as number
          const xr = second === 0 ? zr + yr : zi + yi
          const xi = second === 0 ? zi - yi : yr - zr
          const x = xr * xr + xi * xi
          const i = (frame + second) * BIN_COUNT + bin
          const sr = re[i] as number
          const si = im[i] as number
          if (x > 4e-12) sum += (xr * sr + xi * si) / Math.sqrt(x)
          else silent += (sr * sr + si * si) / 2
        }
        agreement[row] = sum
        // Where all bins are silent, rounding may leave a little on either side of nothing.
        if (silent > 0) agreementVariance[row] = Math.max(0, (variance[row] as number) - silent)
      }
  }
  return { agreement, agreementVariance }
}

/** Sums of a track's cells against a sound's, which have the same number of frames. */
export function bandSums(track: Cells, sound: Cells): BandSums {
  const length = sound.frames * CELL_BANDS
  const sums: BandSums = {
    frames: sound.frames,
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
        const weight = phaseWeight(s)
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

export function bandBins(band: number): number {
  return (BAND_STARTS[band + 1] as number) - (BAND_STARTS[band] as number)
}

/** Power left in each cell per bin, averaged over the frames around it; with a floor far under the track's level. */
export function smoothedNoise(sums: BandSums, gain: number): Float32Array {
  const { frames } = sums
  const noise = new Float32Array(frames * CELL_BANDS)
  const rest = new Float64Array(frames + 1)
  for (let band = 0; band < CELL_BANDS; band++) {
    let total = 0
    for (let frame = 0; frame < frames; frame++) {
      const i = frame * CELL_BANDS + band
      const track = sums.trackPower[i] as number
      const left = track - 2 * gain * (sums.cross[i] as number) + gain * gain * (sums.soundPower[i] as number)
      rest[frame + 1] = (rest[frame] as number) + Math.max(left, 1e-3 * track)
      total += track
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
