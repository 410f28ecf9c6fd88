import { MAP_BANDS } from './band-map'

/** Pairs of bands that a patch is made of, and frames of the track's map (0.7 s). Measured: shorter ones find less, also beside these. */
export const PATCH_BANDS = MAP_BANDS / 2
export const PATCH_FRAMES = 35
/** Frames of the map are so far apart in a track, samples (20 ms), and in a sound (10 ms), which is read at other speeds. */
export const TRACK_HOP = 320
export const SOUND_HOP = 160
/** A patch of the track begins every so many frames of the map (40 ms). */
export const PATCH_STEP = 2
/** Samples of the track from patch to patch. */
export const PATCH_HOP = PATCH_STEP * TRACK_HOP

/** What a patch is told by, in numbers. Measured: half as many find a tenth less. */
export const COMPONENTS = 1024
/** Variance under this part of the mean one is taken for that: nothing weighs more. Measured: 0.1 and 0.3 find less. */
const VARIANCE_FLOOR = 0.02

/**
 * The components of a patch: its cosine transform in time and band, without the mean, from the broadest shapes to finer ones. Orders in
 * time and in band.
 */
export const [TIME_ORDERS, BAND_ORDERS] = orders()
/** As many orders in band are used, from the lowest on; a multiple of 4. */
export const BAND_ORDERS_USED = 4 * Math.ceil((1 + Math.max(...BAND_ORDERS)) / 4)
/** How strongly each component is weighted where nothing is known of a track: what varies much in speech and music weighs little. */
export const USUAL_WEIGHTS = weightsFor(
  Float32Array.from(TIME_ORDERS, (time, k) => usualVariance(time / PATCH_FRAMES, BAND_ORDERS[k] as number)),
)

function orders(): readonly [Uint8Array, Uint8Array] {
  const all = Array.from({ length: PATCH_FRAMES * PATCH_BANDS - 1 }, (_, at) => ({
    time: Math.floor((at + 1) / PATCH_BANDS),
    band: (at + 1) % PATCH_BANDS,
  }))
  const fineness = (one: (typeof all)[number]): number => one.time / PATCH_FRAMES + one.band / PATCH_BANDS
  const chosen = all.sort((a, b) => fineness(a) - fineness(b)).slice(0, COMPONENTS)
  return [Uint8Array.from(chosen, ({ time }) => time), Uint8Array.from(chosen, ({ band }) => band)]
}

/**
 * Variance of a component in speech and music. It falls with how fast a shape changes in time, and along the bands; a formula
 * that was fitted to beds of the project's own making.
 *
 * @param pace Order in time, as a part of the frames of the patch.
 */
function usualVariance(pace: number, band: number): number {
  return 10 ** (-2.35 * pace ** 0.8 - 1.2 * (1 - Math.exp(-band / 4)) - (0.8 * band) / PATCH_BANDS)
}

/** Weights that give every component the same variance, but for those that hardly have any. */
export function weightsFor(variances: Float32Array): Float32Array {
  const floor = (VARIANCE_FLOOR * variances.reduce((sum, value) => sum + value, 0)) / variances.length
  return variances.map((variance) => 1 / Math.sqrt(variance + floor + 1e-20))
}
