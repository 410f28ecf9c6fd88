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
/** The first half of each order in band; at each band the values of four orders lie side by side. */
const FOURS_IN_BAND = Float64Array.from({ length: BAND_ORDERS_USED * HALF_BANDS }, (_, at) => {
  const order = 4 * Math.floor(at / (4 * HALF_BANDS)) + (at % 4)
  return IN_BAND[order * PATCH_BANDS + (Math.floor(at / 4) % HALF_BANDS)] as number
})

/** Transforms rows of `PATCH_BANDS` values in band. @returns Rows of `BAND_ORDERS_USED` values. */
export function bandCosines(rows: Float64Array): Float64Array {
  const count = rows.length / PATCH_BANDS
  // Two rows at a time; an odd last one beside a silent one.
  const out = new Float64Array(2 * Math.ceil(count / 2) * BAND_ORDERS_USED)
  const one = { sums: new Float64Array(HALF_BANDS), differences: new Float64Array(HALF_BANDS) }
  const two = { sums: new Float64Array(HALF_BANDS), differences: new Float64Array(HALF_BANDS) }
  for (let row = 0; row < count; row += 2) {
    const isOneSilent = fold(rows, row, one)
    const isTwoSilent = fold(rows, row + 1, two)
    if (!isOneSilent || !isTwoSilent) transformTwo(one, two, out, row * BAND_ORDERS_USED)
  }
  return out.subarray(0, count * BAND_ORDERS_USED)
}

/** The sums of what lies symmetric about the middle of a row, and the differences. */
interface Folded {
  readonly sums: Float64Array
  readonly differences: Float64Array
}

/** A cosine is symmetric about the middle, or turned about it: folded there, half of the products do. @returns Whether there is only silence. */
function fold(rows: Float64Array, row: number, { sums, differences }: Folded): boolean {
  const from = row * PATCH_BANDS
  if (from >= rows.length) {
    sums.fill(0)
    differences.fill(0)
    return true
  }
  let isSilent = true
  for (let n = 0; n < HALF_BANDS; n++) {
    const low = rows[from + n] as number
    const high = rows[from + PATCH_BANDS - 1 - n] as number
    sums[n] = low + high
    differences[n] = low - high
    if (low !== 0 || high !== 0) isSilent = false
  }
  return isSilent
}

/** Four orders of two rows at a time: each value of a cosine is read once for both. */
function transformTwo(one: Folded, two: Folded, out: Float64Array, to: number): void {
  for (let order = 0; order < BAND_ORDERS_USED; order += 4) {
    let even1 = 0
    let odd1 = 0
    let nextEven1 = 0
    let nextOdd1 = 0
    let even2 = 0
    let odd2 = 0
    let nextEven2 = 0
    let nextOdd2 = 0
    for (let n = 0, at = order * HALF_BANDS; n < HALF_BANDS; n++, at += 4) {
      const even = FOURS_IN_BAND[at] as number
      const odd = FOURS_IN_BAND[at + 1] as number
      const nextEven = FOURS_IN_BAND[at + 2] as number
      const nextOdd = FOURS_IN_BAND[at + 3] as number
      const sum1 = one.sums[n] as number
      const sum2 = two.sums[n] as number
      const difference1 = one.differences[n] as number
      const difference2 = two.differences[n] as number
      even1 += sum1 * even
      odd1 += difference1 * odd
      nextEven1 += sum1 * nextEven
      nextOdd1 += difference1 * nextOdd
      even2 += sum2 * even
      odd2 += difference2 * odd
      nextEven2 += sum2 * nextEven
      nextOdd2 += difference2 * nextOdd
    }
    const first = to + order
    const second = first + BAND_ORDERS_USED
    out[first] = even1
    out[first + 1] = odd1
    out[first + 2] = nextEven1
    out[first + 3] = nextOdd1
    out[second] = even2
    out[second + 1] = odd2
    out[second + 2] = nextEven2
    out[second + 3] = nextOdd2
  }
}

/** Orders in time that are used, each with how many orders in band, from the lowest on, up to a multiple of 4. */
const ORDERS_BY_TIME = Array.from({ length: 1 + Math.max(...TIME_ORDERS) }, (_, time) => {
  const bands = BAND_ORDERS.filter((_, k) => TIME_ORDERS[k] === time)
  return 4 * Math.ceil((1 + Math.max(-1, ...bands)) / 4)
})
/** Which component each order in time and band is; those that are none have a place behind the last. */
const PLACES = new Uint16Array(ORDERS_BY_TIME.length * BAND_ORDERS_USED).fill(COMPONENTS)
for (const [k, time] of TIME_ORDERS.entries()) PLACES[time * BAND_ORDERS_USED + (BAND_ORDERS[k] as number)] = k
const components = new Float32Array(COMPONENTS + 1)

/**
 * Components of a patch: the transform in time of what `bandCosines` made of its rows.
 *
 * @param bands Rows of `BAND_ORDERS_USED` values. @param first Row that the patch begins with; rows outside are 0.
 * @param into Gets `COMPONENTS` values.
 */
export function patchComponents(bands: Float64Array, first: number, into: Float32Array): void {
  const from = Math.max(0, -first)
  const to = Math.min(PATCH_FRAMES, bands.length / BAND_ORDERS_USED - first)
  for (let time = 0; time < ORDERS_BY_TIME.length; time++) {
    const orders = ORDERS_BY_TIME[time] as number
    // Four orders at a time, which lie side by side.
    for (let band = 0; band < orders; band += 4) {
      let one = 0
      let two = 0
      let three = 0
      let four = 0
      let m = (first + from) * BAND_ORDERS_USED + band
      for (let n = from; n < to; n++, m += BAND_ORDERS_USED) {
        const cosine = IN_TIME[time * PATCH_FRAMES + n] as number
        one += cosine * (bands[m] as number)
        two += cosine * (bands[m + 1] as number)
        three += cosine * (bands[m + 2] as number)
        four += cosine * (bands[m + 3] as number)
      }
      const at = time * BAND_ORDERS_USED + band
      components[PLACES[at] as number] = one
      components[PLACES[at + 1] as number] = two
      components[PLACES[at + 2] as number] = three
      components[PLACES[at + 3] as number] = four
    }
  }
  into.set(components.subarray(0, COMPONENTS))
}
