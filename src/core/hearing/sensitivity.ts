import { BAND_STARTS, BIN_COUNT, CELL_BANDS, type CellTransform, cellFrames } from './cells'
import { clickCost } from './click'
import { HEARING_RATE_HZ } from './constants'
import type { PreparedSound } from './prepare'
import { bandBins, phaseWeight, REDUNDANCY } from './sums'
import type { Track } from './track'
import { BAND_BINS_MAX, COHERENCE_WEIGHT } from './verify'

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
/** Power against the loudest cell's (-60 dB) at which a cell fades out of the matched filter. */
const FADED = 1e-6
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
 * The lowest level, dB relative to the file, at which a sound would have been heard in most of a track: the level at which both the matched filter and the
 * agreement of phases are expected to reach what is asked of a find.
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
  const piece = soundCells(sound.samples.subarray(strongest.start, strongest.start + strongest.samples.length), cells)
  const wanted = threshold + MARGIN + clickCost(sound)
  const isHeard = (levelDb: number): boolean => expectedScore(piece, levels, 10 ** (levelDb / 10)) >= wanted
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

/** Power of each cell of a sound, and what its phase weighs: in the agreement, and in the matched filter, where what is far under the loudest fades out. */
interface SoundCells {
  readonly frames: number
  readonly powers: Float32Array
  readonly weights: Float32Array
  readonly filterWeights: Float32Array
}

function soundCells(samples: Float32Array, cells: CellTransform): SoundCells {
  const frames = cellFrames(samples.length)
  const { re, im } = cells.cells(samples, 0, frames)
  const powers = re.map((real, i) => real * real + (im[i] as number) ** 2)
  const faded = FADED * powers.reduce((most, power) => Math.max(most, power), 1e-30)
  const weights = powers.map(phaseWeight)
  const filterWeights = weights.map((weight, i) => (weight * (powers[i] as number)) / ((powers[i] as number) + faded))
  return { frames, powers, weights, filterWeights }
}

/**
 * What a find is expected to score: the smaller of the matched filter on phases and the agreement by bands. Each cell agrees the better, the more the sound leads in it;
 * those in which it has nothing, as a tone has in most, only add to chance.
 */
function expectedScore(
  { frames, powers, weights, filterWeights }: SoundCells,
  levels: BandLevels,
  gainPower: number,
): number {
  let filter = 0
  let filterVariance = 1e-12
  let agreement = 0
  let bandWeights = 1e-12
  let own = 0
  let all = 1e-12
  for (let band = 0; band < CELL_BANDS; band++) {
    const bins = bandBins(band)
    const level = levels[band] as number
    let inBand = 0
    let variance = 1e-12
    let lead = 0
    for (let frame = 0; frame < frames; frame++) {
      let power = 0
      const end = frame * BIN_COUNT + (BAND_STARTS[band + 1] as number)
      for (let i = frame * BIN_COUNT + (BAND_STARTS[band] as number); i < end; i++) {
        const cell = gainPower * (powers[i] as number)
        const agrees = Math.sqrt(cell / (cell + level))
        const weight = weights[i] as number
        const filterWeight = filterWeights[i] as number
        power += cell
        inBand += weight * agrees
        variance += (weight * weight) / 2
        filter += filterWeight * agrees
        filterVariance += (filterWeight * filterWeight) / 2
      }
      const ratio = power / bins / level
      lead += ratio / (1 + ratio)
      own += power
    }
    all += frames * bins * level
    // As a place is verified: bands in which the sound leads say most.
    const bandWeight = Math.sqrt((lead / frames) * Math.min(BAND_BINS_MAX, bins))
    agreement += (bandWeight * inBand) / Math.sqrt(variance * REDUNDANCY)
    bandWeights += bandWeight * bandWeight
  }
  if (own / (own + all) < AUDIBLE_MIN) return 0
  return Math.min(
    filter / Math.sqrt(filterVariance * REDUNDANCY),
    (COHERENCE_WEIGHT * agreement) / Math.sqrt(bandWeights),
  )
}
