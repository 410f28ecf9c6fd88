import { BAND_ORDERS, BAND_ORDERS_USED, COMPONENTS, PATCH_BANDS, PATCH_FRAMES, TIME_ORDERS } from './patch-shape'

/** Cosine transform of a size (type II, orthonormal) as a matrix: order after order, `size` values each. */
function cosines(size: number): Float64Array {
  const matrix = new Float64Array(size * size)
  for (let order = 0; order < size; order++) {
    const scale = Math.sqrt((order === 0 ? 1 : 2) / size)
    for (let n = 0; n < size; n++) matrix[order * size + n] = scale * Math.cos((Math.PI * (n + 0.5) * order) / size)
  }
  return matrix
}

const IN_BAND = cosines(PATCH_BANDS)
const IN_TIME = cosines(PATCH_FRAMES)

const HALF_BANDS = PATCH_BANDS / 2

/** Transforms rows of `PATCH_BANDS` values in band. @returns Rows of `BAND_ORDERS_USED` values. */
export function bandCosines(rows: Float64Array): Float64Array {
  const count = rows.length / PATCH_BANDS
  const out = new Float64Array(count * BAND_ORDERS_USED)
  // A cosine is symmetric about the middle, or turned about it: half of the products do, four orders at a time.
  const sums = new Float64Array(HALF_BANDS)
  const differences = new Float64Array(HALF_BANDS)
  for (let row = 0; row < count; row++) {
    const from = row * PATCH_BANDS
    for (let n = 0; n < HALF_BANDS; n++) {
      const low = rows[from + n] as number
      const high = rows[from + PATCH_BANDS - 1 - n] as number
      sums[n] = low + high
      differences[n] = low - high
    }
    for (let order = 0; order < BAND_ORDERS_USED; order += 4) {
      let even = 0
      let odd = 0
      let nextEven = 0
      let nextOdd = 0
      for (let n = 0, at = order * PATCH_BANDS; n < HALF_BANDS; n++, at++) {
        const sum = sums[n] as number
        const difference = differences[n] as number
        even += sum * (IN_BAND[at] as number)
        odd += difference * (IN_BAND[at + PATCH_BANDS] as number)
        nextEven += sum * (IN_BAND[at + 2 * PATCH_BANDS] as number)
        nextOdd += difference * (IN_BAND[at + 3 * PATCH_BANDS] as number)
      }
      const to = row * BAND_ORDERS_USED + order
      out[to] = even
      out[to + 1] = odd
      out[to + 2] = nextEven
      out[to + 3] = nextOdd
    }
  }
  return out
}

/**
 * Components of a patch: the transform in time of what `bandCosines` made of its rows.
 *
 * @param bands Rows of `BAND_ORDERS_USED` values. @param first Row that the patch begins with; rows outside are 0.
 * @param into Gets `COMPONENTS` values.
 */
export function patchComponents(bands: Float64Array, first: number, into: Float32Array): void {
  const from = Math.max(0, -first)
  const to = Math.min(PATCH_FRAMES, bands.length / BAND_ORDERS_USED - first)
  for (let k = 0; k < COMPONENTS; k++) {
    let sum = 0
    const at = (TIME_ORDERS[k] as number) * PATCH_FRAMES
    let m = (first + from) * BAND_ORDERS_USED + (BAND_ORDERS[k] as number)
    for (let n = from; n < to; n++, m += BAND_ORDERS_USED) sum += (IN_TIME[at + n] as number) * (bands[m] as number)
    into[k] = sum
  }
}
