// AssemblyScript, compiled to SIMD WebAssembly by scripts/build-kernel.mjs. The reference is plain-kernel.ts.
// Layout: the caller places all arrays in memory and passes byte offsets; every array starts on a multiple of 16 bytes.

/** One radix-4 Stockham stage with a stride of at least 4; twiddles of step `step` from tables of `size` cosines and sines. */
function stage(
  xr: usize, xi: usize, yr: usize, yi: usize, cosTable: usize, sinTable: usize,
  quarter: i32, stride: i32, step: i32,
): void {
  const jump = <usize>(quarter * stride) << 2
  const line = <usize>stride << 2
  for (let p = 0; p < quarter; p++) {
    const at1 = <usize>(p * step) << 2
    const at2 = <usize>(2 * p * step) << 2
    const c1 = load<f32>(cosTable + at1)
    const s1 = load<f32>(sinTable + at1)
    const c2 = load<f32>(cosTable + at2)
    const s2 = load<f32>(sinTable + at2)
    const w1r = f32x4.splat(c1)
    const w1i = f32x4.splat(s1)
    const w2r = f32x4.splat(c2)
    const w2i = f32x4.splat(s2)
    const w3r = f32x4.splat(c1 * c2 - s1 * s2)
    const w3i = f32x4.splat(c1 * s2 + s1 * c2)
    let from = (<usize>(p * stride)) << 2
    let to = (<usize>(4 * p * stride)) << 2
    for (let q = 0; q < stride; q += 4) {
      const ar = v128.load(xr + from)
      const ai = v128.load(xi + from)
      const br = v128.load(xr + from + jump)
      const bi = v128.load(xi + from + jump)
      const cr = v128.load(xr + from + 2 * jump)
      const ci = v128.load(xi + from + 2 * jump)
      const dr = v128.load(xr + from + 3 * jump)
      const di = v128.load(xi + from + 3 * jump)
      const sr = f32x4.add(ar, cr)
      const si = f32x4.add(ai, ci)
      const tr = f32x4.sub(ar, cr)
      const ti = f32x4.sub(ai, ci)
      const ur = f32x4.add(br, dr)
      const ui = f32x4.add(bi, di)
      const vr = f32x4.sub(br, dr)
      const vi = f32x4.sub(bi, di)
      v128.store(yr + to, f32x4.add(sr, ur))
      v128.store(yi + to, f32x4.add(si, ui))
      const er = f32x4.add(tr, vi)
      const ei = f32x4.sub(ti, vr)
      v128.store(yr + to + line, f32x4.sub(f32x4.mul(er, w1r), f32x4.mul(ei, w1i)))
      v128.store(yi + to + line, f32x4.add(f32x4.mul(er, w1i), f32x4.mul(ei, w1r)))
      const fr = f32x4.sub(sr, ur)
      const fi = f32x4.sub(si, ui)
      v128.store(yr + to + 2 * line, f32x4.sub(f32x4.mul(fr, w2r), f32x4.mul(fi, w2i)))
      v128.store(yi + to + 2 * line, f32x4.add(f32x4.mul(fr, w2i), f32x4.mul(fi, w2r)))
      const gr = f32x4.sub(tr, vi)
      const gi = f32x4.add(ti, vr)
      v128.store(yr + to + 3 * line, f32x4.sub(f32x4.mul(gr, w3r), f32x4.mul(gi, w3i)))
      v128.store(yi + to + 3 * line, f32x4.add(f32x4.mul(gr, w3i), f32x4.mul(gi, w3r)))
      from += 16
      to += 16
    }
  }
}

/** Four vectors of four become their transpose, stored one after another. */
function storeTransposed(at: usize, a: v128, b: v128, c: v128, d: v128): void {
  const ab0 = v128.shuffle<f32>(a, b, 0, 4, 1, 5)
  const ab1 = v128.shuffle<f32>(a, b, 2, 6, 3, 7)
  const cd0 = v128.shuffle<f32>(c, d, 0, 4, 1, 5)
  const cd1 = v128.shuffle<f32>(c, d, 2, 6, 3, 7)
  v128.store(at, v128.shuffle<f32>(ab0, cd0, 0, 1, 4, 5))
  v128.store(at + 16, v128.shuffle<f32>(ab0, cd0, 2, 3, 6, 7))
  v128.store(at + 32, v128.shuffle<f32>(ab1, cd1, 0, 1, 4, 5))
  v128.store(at + 48, v128.shuffle<f32>(ab1, cd1, 2, 3, 6, 7))
}

/** The first stage, whose stride is 1: four butterflies at once, with the first stage's twiddles; doubles of p come from `cos2`, `sin2`. */
function firstStage(
  xr: usize, xi: usize, yr: usize, yi: usize, cosTable: usize, sinTable: usize, cos2: usize, sin2: usize, quarter: i32,
): void {
  const jump = <usize>quarter << 2
  for (let p = 0; p < quarter; p += 4) {
    const from = <usize>p << 2
    const w1r = v128.load(cosTable + from)
    const w1i = v128.load(sinTable + from)
    const w2r = v128.load(cos2 + from)
    const w2i = v128.load(sin2 + from)
    const w3r = f32x4.sub(f32x4.mul(w1r, w2r), f32x4.mul(w1i, w2i))
    const w3i = f32x4.add(f32x4.mul(w1r, w2i), f32x4.mul(w1i, w2r))
    const ar = v128.load(xr + from)
    const ai = v128.load(xi + from)
    const br = v128.load(xr + from + jump)
    const bi = v128.load(xi + from + jump)
    const cr = v128.load(xr + from + 2 * jump)
    const ci = v128.load(xi + from + 2 * jump)
    const dr = v128.load(xr + from + 3 * jump)
    const di = v128.load(xi + from + 3 * jump)
    const sr = f32x4.add(ar, cr)
    const si = f32x4.add(ai, ci)
    const tr = f32x4.sub(ar, cr)
    const ti = f32x4.sub(ai, ci)
    const ur = f32x4.add(br, dr)
    const ui = f32x4.add(bi, di)
    const vr = f32x4.sub(br, dr)
    const vi = f32x4.sub(bi, di)
    const er = f32x4.add(tr, vi)
    const ei = f32x4.sub(ti, vr)
    const fr = f32x4.sub(sr, ur)
    const fi = f32x4.sub(si, ui)
    const gr = f32x4.sub(tr, vi)
    const gi = f32x4.add(ti, vr)
    storeTransposed(
      yr + 4 * from,
      f32x4.add(sr, ur),
      f32x4.sub(f32x4.mul(er, w1r), f32x4.mul(ei, w1i)),
      f32x4.sub(f32x4.mul(fr, w2r), f32x4.mul(fi, w2i)),
      f32x4.sub(f32x4.mul(gr, w3r), f32x4.mul(gi, w3i)),
    )
    storeTransposed(
      yi + 4 * from,
      f32x4.add(si, ui),
      f32x4.add(f32x4.mul(er, w1i), f32x4.mul(ei, w1r)),
      f32x4.add(f32x4.mul(fr, w2i), f32x4.mul(fi, w2r)),
      f32x4.add(f32x4.mul(gr, w3i), f32x4.mul(gi, w3r)),
    )
  }
}

/**
 * Complex transform of `size` points, a power of four of at least 64, unscaled. `re` and `im` are overwritten with the result
 * where the number of stages is even, else the result stands in the scratch arrays. Returns 1 in that case, else 0.
 */
export function transform(
  re: usize, im: usize, scratchRe: usize, scratchIm: usize, cosTable: usize, sinTable: usize, cos2: usize, sin2: usize, size: i32,
): i32 {
  let xr = re
  let xi = im
  let yr = scratchRe
  let yi = scratchIm
  firstStage(xr, xi, yr, yi, cosTable, sinTable, cos2, sin2, size >> 2)
  let length = size >> 2
  let stride = 4
  let swapped = 1
  while (length >= 4) {
    if (swapped) stage(scratchRe, scratchIm, re, im, cosTable, sinTable, length >> 2, stride, size / length)
    else stage(re, im, scratchRe, scratchIm, cosTable, sinTable, length >> 2, stride, size / length)
    swapped = 1 - swapped
    length >>= 2
    stride <<= 2
  }
  return swapped
}

/**
 * Product of a real track's half spectrum with a full filter spectrum, as the input of an inverse transform: real and
 * imaginary parts are exchanged, since the inverse is the forward transform of the exchanged parts.
 */
export function multiply(trackRe: usize, trackIm: usize, filterRe: usize, filterIm: usize, outRe: usize, outIm: usize, size: i32): void {
  const half = size >> 1
  for (let k = 0; k < half; k += 4) {
    const at = <usize>k << 2
    const tr = v128.load(trackRe + at)
    const ti = v128.load(trackIm + at)
    const fr = v128.load(filterRe + at)
    const fi = v128.load(filterIm + at)
    v128.store(outRe + at, f32x4.add(f32x4.mul(tr, fi), f32x4.mul(ti, fr)))
    v128.store(outIm + at, f32x4.sub(f32x4.mul(tr, fr), f32x4.mul(ti, fi)))
  }
  const middle = <usize>half << 2
  const mr = load<f32>(trackRe + middle)
  store<f32>(outRe + middle, mr * load<f32>(filterIm + middle) + load<f32>(trackIm + middle) * load<f32>(filterRe + middle))
  store<f32>(outIm + middle, mr * load<f32>(filterRe + middle) - load<f32>(trackIm + middle) * load<f32>(filterIm + middle))
  // The other half of a real signal's spectrum is the conjugate, in reverse.
  for (let k = half + 1; k < half + 4; k++) {
    const at = <usize>k << 2
    const mirror = <usize>(size - k) << 2
    const tr = load<f32>(trackRe + mirror)
    const ti = -load<f32>(trackIm + mirror)
    const fr = load<f32>(filterRe + at)
    const fi = load<f32>(filterIm + at)
    store<f32>(outRe + at, tr * fi + ti * fr)
    store<f32>(outIm + at, tr * fr - ti * fi)
  }
  for (let k = half + 4; k < size; k += 4) {
    const at = <usize>k << 2
    const mirror = <usize>(size - k - 3) << 2
    const forwardRe = v128.load(trackRe + mirror)
    const forwardIm = v128.load(trackIm + mirror)
    const tr = v128.shuffle<f32>(forwardRe, forwardRe, 3, 2, 1, 0)
    const ti = f32x4.neg(v128.shuffle<f32>(forwardIm, forwardIm, 3, 2, 1, 0))
    const fr = v128.load(filterRe + at)
    const fi = v128.load(filterIm + at)
    v128.store(outRe + at, f32x4.add(f32x4.mul(tr, fi), f32x4.mul(ti, fr)))
    v128.store(outIm + at, f32x4.sub(f32x4.mul(tr, fr), f32x4.mul(ti, fi)))
  }
}

/** Highest value and sum of squares of each chunk; `outPeak` and `outSquare` get one value for each. */
export function scan(values: usize, chunks: i32, chunkFrames: i32, outPeak: usize, outSquare: usize): void {
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
  }
}
