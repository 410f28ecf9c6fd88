import { mean } from '../products'
import type { Track } from '../track'
import { bandMap, MAP_BANDS } from './band-map'
import { bandCosines, patchComponents } from './cosines'
import { COMPONENTS, PATCH_BANDS, PATCH_FRAMES, PATCH_STEP, TRACK_HOP, USUAL_WEIGHTS, weightsFor } from './patch-shape'

/** The patches of a stretch of track, ready to be multiplied. The array may lie in shared memory. */
export interface PatchRows {
  /** Frame of the track on which the middle of the first patch falls. Each next one lies `PATCH_HOP` further. */
  readonly start: number
  /** Patch after patch, `COMPONENTS` numbers each, within ±`ROW_MAX`. */
  readonly rows: Int16Array
}

/** Largest number in a row: products of whole rows with 8-bit numbers fit 32 bits. */
export const ROW_MAX = 8191
/** What lies around a place is taken from what stands there: within so many frames of the map (0.8 s) to both sides. */
const AROUND = 40
/** Highest and lowest that a place may stand over what lies around it, powers of ten. */
const RISE_MAX = 2
const RISE_MIN = -0.7
const POWER_FLOOR = 1e-9
/** What is usual weighs as much as so many patches of the track (12 s). */
const USUAL_PATCHES = 300
/** A row of unit norm is scaled by this: single numbers over 0.7 do not happen but in patches of next to nothing. */
const ROW_SCALE = ROW_MAX / 0.7

/** Number of patches that belong to a stretch of this many frames. */
export function patchCount({ start, frames }: { readonly start: number; readonly frames: number }): number {
  const { from, to } = mapRange(start, frames)
  return Math.ceil((to - from) / PATCH_STEP)
}

/**
 * The patches of a stretch of track: its log-frequency map over what lies around each place, in pieces, each told by its
 * components; those that vary much in this track weigh little.
 *
 * @param into Array to fill, for instance in shared memory: `patchCount` times `COMPONENTS`.
 */
export function trackPatches(
  track: Track,
  stretch: { readonly start: number; readonly frames: number },
  into: Int16Array = new Int16Array(patchCount(stretch) * COMPONENTS),
): PatchRows {
  const { from, to } = mapRange(stretch.start, stretch.frames)
  const first = Math.max(0, from - PATCH_FRAMES)
  const rises = risesOf(track, first, to + PATCH_FRAMES)
  fillRows(rises, from - first, patchCount(stretch), into)
  return { start: from * TRACK_HOP, rows: into }
}

/** Frames of the map whose middles lie in a stretch of track, the last not among them. */
function mapRange(start: number, frames: number) {
  return { from: Math.ceil(start / TRACK_HOP), to: Math.max(1, Math.ceil((start + frames) / TRACK_HOP)) }
}

/** By how much each pair of bands stands over what lies around it in time; frame after frame, up to the end of the track. */
function risesOf(track: Track, from: number, to: number): Float64Array {
  const lastFrame = Math.ceil(track.frames / TRACK_HOP)
  const first = Math.max(0, from - AROUND)
  const last = Math.max(first, Math.min(lastFrame, to + AROUND))
  // The map's first frame needs half of its longest window before it.
  const lead = 4
  const samples = track.midSamples((first - lead) * TRACK_HOP, (last + lead) * TRACK_HOP)
  const { power } = bandMap(samples, TRACK_HOP, { from: lead, to: lead + last - first })
  const count = Math.max(0, Math.min(to, last) - from)
  const out = new Float64Array(count * PATCH_BANDS)
  const sums = new Float64Array(last - first + 1)
  for (let band = 0; band < MAP_BANDS; band++) {
    for (let n = 0; n < last - first; n++)
      sums[n + 1] = (sums[n] as number) + Math.log((power[n * MAP_BANDS + band] as number) + POWER_FLOOR) / Math.LN10
    for (let row = 0; row < count; row++) {
      const n = row + from - first
      const low = Math.max(0, n - AROUND)
      const high = Math.min(last - first, n + AROUND + 1)
      const around = ((sums[high] as number) - (sums[low] as number)) / (high - low)
      const rise = (sums[n + 1] as number) - (sums[n] as number) - around
      const at = row * PATCH_BANDS + (band >> 1)
      out[at] = (out[at] as number) + 0.5 * Math.max(RISE_MIN, Math.min(RISE_MAX, rise))
    }
  }
  return out
}

/** @param first Row of the rises in the middle of the first patch. */
function fillRows(rises: Float64Array, first: number, count: number, into: Int16Array): void {
  const bands = bandCosines(rises)
  const values = new Float32Array(count * COMPONENTS)
  const sums = runningSums(rises)
  const squares = new Float64Array(COMPONENTS)
  const means = new Float64Array(COMPONENTS)
  for (let patch = 0; patch < count; patch++) {
    const row = first + patch * PATCH_STEP - (PATCH_FRAMES >> 1)
    const one = values.subarray(patch * COMPONENTS, (patch + 1) * COMPONENTS)
    patchComponents(bands, row, one)
    const scale = 1 / normOf(sums, row)
    for (let k = 0; k < COMPONENTS; k++) {
      const value = (one[k] as number) * scale
      one[k] = value
      means[k] = (means[k] as number) + value / count
      squares[k] = (squares[k] as number) + (value * value) / count
    }
  }
  const weights = weightsFor(blended(squares, means, count))
  // Templates bear the usual weights: what is left of the square of the weights lies here.
  const rest = weights.map((weight, k) => weight ** 2 / (USUAL_WEIGHTS[k] as number))
  for (let patch = 0; patch < count; patch++) {
    const at = patch * COMPONENTS
    let square = 1e-12
    for (let k = 0; k < COMPONENTS; k++) square += ((values[at + k] as number) * (weights[k] as number)) ** 2
    const scale = ROW_SCALE / Math.sqrt(square)
    for (let k = 0; k < COMPONENTS; k++) {
      const value = Math.round((values[at + k] as number) * (rest[k] as number) * scale)
      into[at + k] = Math.max(-ROW_MAX, Math.min(ROW_MAX, value))
    }
  }
}

/** Variances in the track, with what is usual where the track is short. */
function blended(squares: Float64Array, means: Float64Array, count: number): Float32Array {
  const own = squares.map((square, k) => Math.max(0, square - (means[k] as number) ** 2))
  const usual = USUAL_WEIGHTS.map((weight) => 1 / (weight * weight))
  // On one scale: only their shape is usual.
  const scale = (mean(own) || 1) / mean(usual)
  const share = count / (count + USUAL_PATCHES)
  return usual.map((variance, k) => share * (own[k] as number) + (1 - share) * scale * variance)
}

/** Sums and sums of squares of all rows before each, for the norm of a patch. */
function runningSums(rises: Float64Array) {
  const count = rises.length / PATCH_BANDS
  const sum = new Float64Array(count + 1)
  const square = new Float64Array(count + 1)
  for (let row = 0; row < count; row++) {
    let one = 0
    let two = 0
    for (let band = 0; band < PATCH_BANDS; band++) {
      const value = rises[row * PATCH_BANDS + band] as number
      one += value
      two += value * value
    }
    sum[row + 1] = (sum[row] as number) + one
    square[row + 1] = (square[row] as number) + two
  }
  return { sum, square }
}

function normOf({ sum, square }: ReturnType<typeof runningSums>, first: number): number {
  const from = Math.max(0, first)
  const to = Math.max(from, Math.min(sum.length - 1, first + PATCH_FRAMES))
  const total = (sum[to] as number) - (sum[from] as number)
  const squares = (square[to] as number) - (square[from] as number)
  return Math.sqrt(Math.max(1e-9, squares - total ** 2 / (PATCH_FRAMES * PATCH_BANDS)))
}
