// AssemblyScript, compiled to SIMD WebAssembly by scripts/build-kernel.mjs. The reference is the plain loop in resample.ts.

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
    let sum = f32x4.splat(0)
    while (tap < tapEnd) {
      sum = f32x4.add(sum, f32x4.mul(v128.load(tap), v128.load(at)))
      tap += 16
      at += 16
    }
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
