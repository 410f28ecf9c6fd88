// AssemblyScript, compiled to SIMD WebAssembly by scripts/build-kernel.mjs. The reference is plain-products.ts.
// Layout: the caller places all arrays in memory and passes byte offsets; every array starts on a multiple of 16 bytes.

function laneSum(v: v128): i32 {
  return i32x4.extract_lane(v, 0) + i32x4.extract_lane(v, 1) + i32x4.extract_lane(v, 2) + i32x4.extract_lane(v, 3)
}

/**
 * Products of `count` rows (an even number) with four templates; rows and templates have `bytes` bytes of 16-bit numbers, a multiple of
 * 16. `out` gets 32-bit sums, template after template.
 */
export function products(rows: usize, count: i32, templates: usize, bytes: i32, out: usize): void {
  const length = <usize>bytes
  const line = (<usize>count) << 2
  const second = templates + length
  const third = second + length
  const fourth = third + length
  for (let row = 0; row < count; row += 2) {
    const one = rows + (<usize>row) * length
    const two = one + length
    let a1 = i32x4.splat(0)
    let a2 = i32x4.splat(0)
    let b1 = i32x4.splat(0)
    let b2 = i32x4.splat(0)
    let c1 = i32x4.splat(0)
    let c2 = i32x4.splat(0)
    let d1 = i32x4.splat(0)
    let d2 = i32x4.splat(0)
    for (let at: usize = 0; at < length; at += 16) {
      const x = v128.load(one + at)
      const y = v128.load(two + at)
      const a = v128.load(templates + at)
      a1 = i32x4.add(a1, i32x4.dot_i16x8_s(x, a))
      a2 = i32x4.add(a2, i32x4.dot_i16x8_s(y, a))
      const b = v128.load(second + at)
      b1 = i32x4.add(b1, i32x4.dot_i16x8_s(x, b))
      b2 = i32x4.add(b2, i32x4.dot_i16x8_s(y, b))
      const c = v128.load(third + at)
      c1 = i32x4.add(c1, i32x4.dot_i16x8_s(x, c))
      c2 = i32x4.add(c2, i32x4.dot_i16x8_s(y, c))
      const d = v128.load(fourth + at)
      d1 = i32x4.add(d1, i32x4.dot_i16x8_s(x, d))
      d2 = i32x4.add(d2, i32x4.dot_i16x8_s(y, d))
    }
    const to = out + ((<usize>row) << 2)
    store<i32>(to, laneSum(a1))
    store<i32>(to + 4, laneSum(a2))
    store<i32>(to + line, laneSum(b1))
    store<i32>(to + line + 4, laneSum(b2))
    store<i32>(to + 2 * line, laneSum(c1))
    store<i32>(to + 2 * line + 4, laneSum(c2))
    store<i32>(to + 3 * line, laneSum(d1))
    store<i32>(to + 3 * line + 4, laneSum(d2))
  }
}
