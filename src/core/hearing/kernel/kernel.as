// AssemblyScript, compiled to SIMD WebAssembly by scripts/build-kernel.mjs. The reference is plain-kernel.ts.
// Layout: the caller places all arrays in memory and passes byte offsets; every array starts on a multiple of 16 bytes.
import { forward, inverse } from './fft'

export { forward, inverse }

/** Product of a track's spectrum with the conjugate of a piece's. */
export function multiply(xr: usize, xi: usize, pr: usize, pi: usize, outRe: usize, outIm: usize, size: i32): void {
  const bytes = <usize>size << 2
  for (let at: usize = 0; at < bytes; at += 16) {
    const tr = v128.load(xr + at)
    const ti = v128.load(xi + at)
    const fr = v128.load(pr + at)
    const fi = v128.load(pi + at)
    v128.store(outRe + at, f32x4.add(f32x4.mul(tr, fr), f32x4.mul(ti, fi)))
    v128.store(outIm + at, f32x4.sub(f32x4.mul(ti, fr), f32x4.mul(tr, fi)))
  }
}

/** Highest value and sum of squares of each chunk; `outPeak` and `outSquare` get one value for each. */
export function scan(values: usize, chunks: i32, chunkFrames: i32, outPeak: usize, outSquare: usize, outAt: usize): void {
  for (let chunk = 0; chunk < chunks; chunk++) {
    let at = values + ((<usize>(chunk * chunkFrames)) << 2)
    let peak = f32x4.splat(0)
    let square = f32x4.splat(0)
    for (let i = 0; i < chunkFrames; i += 4) {
      const v = v128.load(at)
      peak = f32x4.pmax(peak, v)
      square = f32x4.add(square, f32x4.mul(v, v))
      at += 16
    }
    const highest = max(
      max(f32x4.extract_lane(peak, 0), f32x4.extract_lane(peak, 1)),
      max(f32x4.extract_lane(peak, 2), f32x4.extract_lane(peak, 3)),
    )
    const total = f32x4.extract_lane(square, 0) + f32x4.extract_lane(square, 1) + f32x4.extract_lane(square, 2) + f32x4.extract_lane(square, 3)
    store<f32>(outPeak + ((<usize>chunk) << 2), highest)
    store<f32>(outSquare + ((<usize>chunk) << 2), total)
    if (outAt == 0) continue
    // The peak is one of the values, or 0 where all are below; then the first place will do.
    const first = values + ((<usize>(chunk * chunkFrames)) << 2)
    const wanted = f32x4.splat(highest)
    at = first
    let place: i32 = 0
    for (let i = 0; i < chunkFrames; i += 4) {
      const mask = i32x4.bitmask(f32x4.eq(v128.load(at), wanted))
      if (mask != 0) {
        place = i + ctz(mask)
        break
      }
      at += 16
    }
    store<i32>(outAt + ((<usize>chunk) << 2), chunk * chunkFrames + place)
  }
}

/** Products of `count` values (a multiple of 4) with as many from each of four successive places on; `out` gets the four sums. */
export function dots(values: usize, taps: usize, count: i32, out: usize): void {
  let a = f32x4.splat(0)
  let b = f32x4.splat(0)
  let c = f32x4.splat(0)
  let d = f32x4.splat(0)
  const end = taps + (<usize>count << 2)
  while (taps < end) {
    const t = v128.load(taps)
    a = f32x4.add(a, f32x4.mul(t, v128.load(values)))
    b = f32x4.add(b, f32x4.mul(t, v128.load(values, 4)))
    c = f32x4.add(c, f32x4.mul(t, v128.load(values, 8)))
    d = f32x4.add(d, f32x4.mul(t, v128.load(values, 12)))
    taps += 16
    values += 16
  }
  // The sums of the lanes of all four at once.
  const ab0 = v128.shuffle<f32>(a, b, 0, 4, 1, 5)
  const ab1 = v128.shuffle<f32>(a, b, 2, 6, 3, 7)
  const cd0 = v128.shuffle<f32>(c, d, 0, 4, 1, 5)
  const cd1 = v128.shuffle<f32>(c, d, 2, 6, 3, 7)
  const abSum = f32x4.add(ab0, ab1)
  const cdSum = f32x4.add(cd0, cd1)
  v128.store(
    out,
    f32x4.add(v128.shuffle<f32>(abSum, cdSum, 0, 1, 4, 5), v128.shuffle<f32>(abSum, cdSum, 2, 3, 6, 7)),
  )
}
