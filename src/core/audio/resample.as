// AssemblyScript, compiled to SIMD WebAssembly by scripts/build-kernel.mjs. The references are the plain loops in resample.ts and
// true-peak.ts.

/**
 * Output samples of a polyphase resampler.
 *
 * @param input First tap's input of the first output. @param taps Rows of `tapCount` (a multiple of 4), one for each of `up` phases.
 * @param phase Phase of the first output. @param count Outputs to write to `out`.
 */
export function polyphase(
  input: usize,
  taps: usize,
  tapCount: i32,
  up: i32,
  down: i32,
  phase: i32,
  count: i32,
  out: usize,
): void {
  const rowBytes = (<usize>tapCount) << 2
  const end = out + ((<usize>count) << 2)
  while (out < end) {
    let tap = taps + (<usize>phase) * rowBytes
    const tapEnd = tap + rowBytes
    let at = input
    // Two sums, or each addition would wait for the one before.
    let sum = f32x4.splat(0)
    let other = f32x4.splat(0)
    while (tap + 16 < tapEnd) {
      sum = f32x4.add(sum, f32x4.mul(v128.load(tap), v128.load(at)))
      other = f32x4.add(other, f32x4.mul(v128.load(tap, 16), v128.load(at, 16)))
      tap += 32
      at += 32
    }
    if (tap < tapEnd) sum = f32x4.add(sum, f32x4.mul(v128.load(tap), v128.load(at)))
    sum = f32x4.add(sum, other)
    store<f32>(
      out,
      f32x4.extract_lane(sum, 0) + f32x4.extract_lane(sum, 1) + (f32x4.extract_lane(sum, 2) + f32x4.extract_lane(sum, 3)),
    )
    out += 4
    phase += down
    input += (<usize>(phase / up)) << 2
    phase %= up
  }
}

/**
 * Highest magnitude between samples.
 *
 * @param input First tap's input of the first place. @param count Places, a multiple of 4. @param taps Rows of `tapCount`.
 */
export function interpolatedPeak(input: usize, count: i32, taps: usize, tapCount: i32, phases: i32): f32 {
  const rowBytes = (<usize>tapCount) << 2
  const tapsEnd = taps + (<usize>phases) * rowBytes
  const end = input + ((<usize>count) << 2)
  let peak = f32x4.splat(0)
  while (input < end) {
    let tap = taps
    while (tap < tapsEnd) {
      const rowEnd = tap + rowBytes
      let at = input
      let sum = f32x4.splat(0)
      while (tap < rowEnd) {
        sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(tap), v128.load(at)))
        sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(tap, 4), v128.load(at, 4)))
        sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(tap, 8), v128.load(at, 8)))
        sum = f32x4.add(sum, f32x4.mul(v128.load32_splat(tap, 12), v128.load(at, 12)))
        tap += 16
        at += 16
      }
      peak = f32x4.pmax(peak, f32x4.abs(sum))
    }
    input += 16
  }
  return max(
    max(f32x4.extract_lane(peak, 0), f32x4.extract_lane(peak, 1)),
    max(f32x4.extract_lane(peak, 2), f32x4.extract_lane(peak, 3)),
  )
}
