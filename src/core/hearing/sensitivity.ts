import { BAND_STARTS, BIN_COUNT, CELL_BANDS, type CellTransform, cellFrames } from './cells'
import { clickCost } from './click'
import { HEARING_RATE_HZ } from './constants'
import type { PreparedSound } from './prepare'
import { bandBins, REDUNDANCY } from './sums'
import type { Track } from './track'

/** Power of a track in each band, per bin and frame, at the loud end: three quarters of the track are quieter. */
export type BandLevels = Float32Array

/** The track is looked at every so often, s. */
const LOOK_EVERY_S = 0.5
/** Share of the track that is quieter than the levels that are given. */
const QUANTILE = 0.75
/** Levels that are tried, dB relative to the file: from far under what is audible to far above. */
const LOWEST_DB = -60
const HIGHEST_DB = 30
/** A find's score is the weaker of two figures that both spread: so much is asked beyond the threshold. Measured on laid sounds. */
const MARGIN = 1.5
/** An effect of which less than this is heard is not told from chance, as a power against the track's (-28 dB). */
const AUDIBLE_MIN = 10 ** -2.8

/** Band levels of a track, for `hearableFromDb`. */
export function bandLevels(track: Track, cells: CellTransform): BandLevels {
  const step = Math.round(LOOK_EVERY_S * HEARING_RATE_HZ)
  const looks = Math.max(1, Math.floor(track.frames / step))
  const powers = Array.from({ length: CELL_BANDS }, () => new Float32Array(looks))
  for (let look = 0; look < looks; look++) {
    const { re, im } = cells.cells(track.midSamples(look * step, look * step + 2048), 512, 1)
    for (let band = 0; band < CELL_BANDS; band++) {
      let sum = 0
      for (let bin = BAND_STARTS[band] as number; bin < (BAND_STARTS[band + 1] as number); bin++)
        sum += (re[bin] as number) ** 2 + (im[bin] as number) ** 2
      ;(powers[band] as Float32Array)[look] = sum / bandBins(band)
    }
  }
  return Float32Array.from(powers, (values) => (values.sort()[Math.floor(QUANTILE * (looks - 1))] ?? 0) + 1e-9)
}

/**
 * The lowest level, dB relative to the file, at which a sound would have been heard in most of a track: the level at which the
 * agreement of phases that is to be expected reaches what is asked of a find.
 *
 * @param levels Of the track, as `bandLevels` gives them. @param threshold Score from which a find is possible.
 * @returns Null where the sound would not be heard for sure at any level.
 */
export function hearableFromDb(
  sound: PreparedSound,
  levels: BandLevels,
  threshold: number,
  cells: CellTransform,
): number | null {
  const [strongest] = sound.pieces
  if (!strongest) return null
  const end = strongest.start + strongest.samples.length
  const frames = cellFrames(end - strongest.start)
  const { re, im } = cells.cells(sound.samples.subarray(strongest.start, end), 0, frames)
  const powers = new Float32Array(frames * CELL_BANDS)
  for (let frame = 0; frame < frames; frame++) {
    for (let band = 0; band < CELL_BANDS; band++) {
      let sum = 0
      for (let bin = BAND_STARTS[band] as number; bin < (BAND_STARTS[band + 1] as number); bin++)
        sum += (re[frame * BIN_COUNT + bin] as number) ** 2 + (im[frame * BIN_COUNT + bin] as number) ** 2
      powers[frame * CELL_BANDS + band] = sum / bandBins(band)
    }
  }
  const weights = powers.map((power) => power ** 0.125)
  const wanted = threshold + MARGIN + clickCost(sound)
  const isHeard = (levelDb: number): boolean => expectedScore(powers, weights, levels, 10 ** (levelDb / 10)) >= wanted
  // What is expected grows with the level.
  if (!isHeard(HIGHEST_DB)) return null
  let silent = LOWEST_DB - 1
  let heard = HIGHEST_DB
  while (heard - silent > 1) {
    const middle = Math.floor((silent + heard) / 2)
    if (isHeard(middle)) heard = middle
    else silent = middle
  }
  return heard
}

/** What a matched filter on phases is expected to show: each cell agrees the better, the more the sound leads in it. */
function expectedScore(powers: Float32Array, weights: Float32Array, levels: BandLevels, gainPower: number): number {
  let agreement = 0
  let variance = 1e-12
  let own = 0
  let all = 1e-12
  for (let i = 0; i < powers.length; i++) {
    const band = i % CELL_BANDS
    const bins = bandBins(band)
    const power = powers[i] as number
    const ratio = (gainPower * power) / (levels[band] as number)
    const weight = weights[i] as number
    agreement += (weight * bins * Math.sqrt(ratio)) / Math.sqrt(1 + ratio)
    variance += (weight * weight * bins) / 2
    own += gainPower * power * bins
    all += (gainPower * power + (levels[band] as number)) * bins
  }
  if (own / all < AUDIBLE_MIN) return 0
  return agreement / Math.sqrt(variance * REDUNDANCY)
}
