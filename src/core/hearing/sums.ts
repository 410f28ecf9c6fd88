import { BAND_STARTS, BIN_COUNT, CELL_BANDS, type Cells } from './cells'

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
/** The noise around a cell is averaged over this many frames to each side. */
const NOISE_SPAN = 6

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
