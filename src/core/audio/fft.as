// AssemblyScript, compiled to SIMD WebAssembly by scripts/build-kernel.mjs. The reference is the plain transform of fft.ts.
// Layout: the caller places all arrays in memory and passes byte offsets; every array starts on a multiple of 16 bytes.
//
// Transforms work in place and leave the spectrum in an order of their own, which products do not mind and the inverse undoes.
// Stages go depth first, so that all but the first few work within the innermost cache. The twiddles exp(-2 pi i j / length),
// j < length / 4, of a stage stand in the tables from index length / 4 on, one after another, so that they load as vectors.

/** Transforms down from this length go stage by stage over a stretch that fits the innermost cache (8 KB). */
const LOCAL: i32 = 1024

/** One radix-4 stage, decimation in frequency, over `length` points. */
function forwardStage(re: usize, im: usize, cosTable: usize, sinTable: usize, length: i32): void {
  const jump = <usize>length
  let wr = cosTable + jump
  let wi = sinTable + jump
  const end = re + jump
  while (re < end) {
    const ar = v128.load(re)
    const ai = v128.load(im)
    const br = v128.load(re + jump)
    const bi = v128.load(im + jump)
    const cr = v128.load(re + 2 * jump)
    const ci = v128.load(im + 2 * jump)
    const dr = v128.load(re + 3 * jump)
    const di = v128.load(im + 3 * jump)
    const w1r = v128.load(wr)
    const w1i = v128.load(wi)
    const sr = f32x4.add(ar, cr)
    const si = f32x4.add(ai, ci)
    const tr = f32x4.sub(ar, cr)
    const ti = f32x4.sub(ai, ci)
    const ur = f32x4.add(br, dr)
    const ui = f32x4.add(bi, di)
    const vr = f32x4.sub(br, dr)
    const vi = f32x4.sub(bi, di)
    v128.store(re, f32x4.add(sr, ur))
    v128.store(im, f32x4.add(si, ui))
    const er = f32x4.add(tr, vi)
    const ei = f32x4.sub(ti, vr)
    v128.store(re + jump, f32x4.sub(f32x4.mul(er, w1r), f32x4.mul(ei, w1i)))
    v128.store(im + jump, f32x4.add(f32x4.mul(er, w1i), f32x4.mul(ei, w1r)))
    const w2r = f32x4.sub(f32x4.mul(w1r, w1r), f32x4.mul(w1i, w1i))
    const half = f32x4.mul(w1r, w1i)
    const w2i = f32x4.add(half, half)
    const fr = f32x4.sub(sr, ur)
    const fi = f32x4.sub(si, ui)
    v128.store(re + 2 * jump, f32x4.sub(f32x4.mul(fr, w2r), f32x4.mul(fi, w2i)))
    v128.store(im + 2 * jump, f32x4.add(f32x4.mul(fr, w2i), f32x4.mul(fi, w2r)))
    const w3r = f32x4.sub(f32x4.mul(w1r, w2r), f32x4.mul(w1i, w2i))
    const w3i = f32x4.add(f32x4.mul(w1r, w2i), f32x4.mul(w1i, w2r))
    const gr = f32x4.sub(tr, vi)
    const gi = f32x4.add(ti, vr)
    v128.store(re + 3 * jump, f32x4.sub(f32x4.mul(gr, w3r), f32x4.mul(gi, w3i)))
    v128.store(im + 3 * jump, f32x4.add(f32x4.mul(gr, w3i), f32x4.mul(gi, w3r)))
    re += 16
    im += 16
    wr += 16
    wi += 16
  }
}

/** One radix-4 stage of the inverse, decimation in time, over `length` points. */
function inverseStage(re: usize, im: usize, cosTable: usize, sinTable: usize, length: i32): void {
  const jump = <usize>length
  let wr = cosTable + jump
  let wi = sinTable + jump
  const end = re + jump
  while (re < end) {
    const w1r = v128.load(wr)
    const w1i = v128.load(wi)
    const w2r = f32x4.sub(f32x4.mul(w1r, w1r), f32x4.mul(w1i, w1i))
    const half = f32x4.mul(w1r, w1i)
    const w2i = f32x4.add(half, half)
    const w3r = f32x4.sub(f32x4.mul(w1r, w2r), f32x4.mul(w1i, w2i))
    const w3i = f32x4.add(f32x4.mul(w1r, w2i), f32x4.mul(w1i, w2r))
    const ar = v128.load(re)
    const ai = v128.load(im)
    const xr = v128.load(re + jump)
    const xi = v128.load(im + jump)
    const yr = v128.load(re + 2 * jump)
    const yi = v128.load(im + 2 * jump)
    const zr = v128.load(re + 3 * jump)
    const zi = v128.load(im + 3 * jump)
    const br = f32x4.add(f32x4.mul(xr, w1r), f32x4.mul(xi, w1i))
    const bi = f32x4.sub(f32x4.mul(xi, w1r), f32x4.mul(xr, w1i))
    const cr = f32x4.add(f32x4.mul(yr, w2r), f32x4.mul(yi, w2i))
    const ci = f32x4.sub(f32x4.mul(yi, w2r), f32x4.mul(yr, w2i))
    const dr = f32x4.add(f32x4.mul(zr, w3r), f32x4.mul(zi, w3i))
    const di = f32x4.sub(f32x4.mul(zi, w3r), f32x4.mul(zr, w3i))
    const sr = f32x4.add(ar, cr)
    const si = f32x4.add(ai, ci)
    const tr = f32x4.sub(ar, cr)
    const ti = f32x4.sub(ai, ci)
    const ur = f32x4.add(br, dr)
    const ui = f32x4.add(bi, di)
    const vr = f32x4.sub(br, dr)
    const vi = f32x4.sub(bi, di)
    v128.store(re, f32x4.add(sr, ur))
    v128.store(im, f32x4.add(si, ui))
    v128.store(re + jump, f32x4.sub(tr, vi))
    v128.store(im + jump, f32x4.add(ti, vr))
    v128.store(re + 2 * jump, f32x4.sub(sr, ur))
    v128.store(im + 2 * jump, f32x4.sub(si, ui))
    v128.store(re + 3 * jump, f32x4.add(tr, vi))
    v128.store(im + 3 * jump, f32x4.sub(ti, vr))
    re += 16
    im += 16
    wr += 16
    wi += 16
  }
}

/** Transforms of 4 points within each of 4 vectors that follow each other; the results stand transposed. */
function forwardFours(at: usize, imAt: usize): void {
  const pr = v128.load(at)
  const pi = v128.load(imAt)
  const qr = v128.load(at + 16)
  const qi = v128.load(imAt + 16)
  const rr = v128.load(at + 32)
  const ri = v128.load(imAt + 32)
  const tr = v128.load(at + 48)
  const ti = v128.load(imAt + 48)
  const x0 = v128.shuffle<f32>(pr, qr, 0, 4, 1, 5)
  const x1 = v128.shuffle<f32>(pr, qr, 2, 6, 3, 7)
  const x2 = v128.shuffle<f32>(rr, tr, 0, 4, 1, 5)
  const x3 = v128.shuffle<f32>(rr, tr, 2, 6, 3, 7)
  const y0 = v128.shuffle<f32>(pi, qi, 0, 4, 1, 5)
  const y1 = v128.shuffle<f32>(pi, qi, 2, 6, 3, 7)
  const y2 = v128.shuffle<f32>(ri, ti, 0, 4, 1, 5)
  const y3 = v128.shuffle<f32>(ri, ti, 2, 6, 3, 7)
  const ar = v128.shuffle<f32>(x0, x2, 0, 1, 4, 5)
  const br = v128.shuffle<f32>(x0, x2, 2, 3, 6, 7)
  const cr = v128.shuffle<f32>(x1, x3, 0, 1, 4, 5)
  const dr = v128.shuffle<f32>(x1, x3, 2, 3, 6, 7)
  const ai = v128.shuffle<f32>(y0, y2, 0, 1, 4, 5)
  const bi = v128.shuffle<f32>(y0, y2, 2, 3, 6, 7)
  const ci = v128.shuffle<f32>(y1, y3, 0, 1, 4, 5)
  const di = v128.shuffle<f32>(y1, y3, 2, 3, 6, 7)
  const sr = f32x4.add(ar, cr)
  const si = f32x4.add(ai, ci)
  const mr = f32x4.sub(ar, cr)
  const mi = f32x4.sub(ai, ci)
  const ur = f32x4.add(br, dr)
  const ui = f32x4.add(bi, di)
  const vr = f32x4.sub(br, dr)
  const vi = f32x4.sub(bi, di)
  v128.store(at, f32x4.add(sr, ur))
  v128.store(imAt, f32x4.add(si, ui))
  v128.store(at + 16, f32x4.add(mr, vi))
  v128.store(imAt + 16, f32x4.sub(mi, vr))
  v128.store(at + 32, f32x4.sub(sr, ur))
  v128.store(imAt + 32, f32x4.sub(si, ui))
  v128.store(at + 48, f32x4.sub(mr, vi))
  v128.store(imAt + 48, f32x4.add(mi, vr))
}

/** Undoes forwardFours, unscaled. */
function inverseFours(at: usize, imAt: usize): void {
  const ar = v128.load(at)
  const ai = v128.load(imAt)
  const br = v128.load(at + 16)
  const bi = v128.load(imAt + 16)
  const cr = v128.load(at + 32)
  const ci = v128.load(imAt + 32)
  const dr = v128.load(at + 48)
  const di = v128.load(imAt + 48)
  const sr = f32x4.add(ar, cr)
  const si = f32x4.add(ai, ci)
  const mr = f32x4.sub(ar, cr)
  const mi = f32x4.sub(ai, ci)
  const ur = f32x4.add(br, dr)
  const ui = f32x4.add(bi, di)
  const vr = f32x4.sub(br, dr)
  const vi = f32x4.sub(bi, di)
  storeTransposed(at, f32x4.add(sr, ur), f32x4.sub(mr, vi), f32x4.sub(sr, ur), f32x4.add(mr, vi))
  storeTransposed(imAt, f32x4.add(si, ui), f32x4.add(mi, vr), f32x4.sub(si, ui), f32x4.sub(mi, vr))
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

/** All stages from `length` (a power of four) down. */
function forwardFrom(re: usize, im: usize, cosTable: usize, sinTable: usize, length: i32): void {
  if (length > LOCAL) {
    forwardStage(re, im, cosTable, sinTable, length)
    const quarter = <usize>length
    for (let k: usize = 0; k < 4; k++) forwardFrom(re + k * quarter, im + k * quarter, cosTable, sinTable, length >> 2)
    return
  }
  const bytes = <usize>length << 2
  for (let part = length; part > 4; part >>= 2) {
    const step = <usize>part << 2
    for (let at: usize = 0; at < bytes; at += step) forwardStage(re + at, im + at, cosTable, sinTable, part)
  }
  for (let at: usize = 0; at < bytes; at += 64) forwardFours(re + at, im + at)
}

/** All stages of the inverse up to `length` (a power of four). */
function inverseTo(re: usize, im: usize, cosTable: usize, sinTable: usize, length: i32): void {
  if (length > LOCAL) {
    const quarter = <usize>length
    for (let k: usize = 0; k < 4; k++) inverseTo(re + k * quarter, im + k * quarter, cosTable, sinTable, length >> 2)
    inverseStage(re, im, cosTable, sinTable, length)
    return
  }
  const bytes = <usize>length << 2
  for (let at: usize = 0; at < bytes; at += 64) inverseFours(re + at, im + at)
  for (let part = 16; part <= length; part <<= 2) {
    const step = <usize>part << 2
    for (let at: usize = 0; at < bytes; at += step) inverseStage(re + at, im + at, cosTable, sinTable, part)
  }
}

/**
 * Complex transform in place, unscaled, of `size` points: a power of four of at least 64, or twice one. `cosHalf` and `sinHalf`
 * hold exp(-2 pi i j / size), j < size / 2, for the latter.
 */
export function forward(re: usize, im: usize, cosTable: usize, sinTable: usize, cosHalf: usize, sinHalf: usize, size: i32): void {
  if ((size & 0x55555555) != 0) return forwardFrom(re, im, cosTable, sinTable, size)
  const jump = <usize>size << 1
  for (let at: usize = 0; at < jump; at += 16) {
    const ar = v128.load(re + at)
    const ai = v128.load(im + at)
    const br = v128.load(re + at + jump)
    const bi = v128.load(im + at + jump)
    const wr = v128.load(cosHalf + at)
    const wi = v128.load(sinHalf + at)
    const dr = f32x4.sub(ar, br)
    const di = f32x4.sub(ai, bi)
    v128.store(re + at, f32x4.add(ar, br))
    v128.store(im + at, f32x4.add(ai, bi))
    v128.store(re + at + jump, f32x4.sub(f32x4.mul(dr, wr), f32x4.mul(di, wi)))
    v128.store(im + at + jump, f32x4.add(f32x4.mul(dr, wi), f32x4.mul(di, wr)))
  }
  forwardFrom(re, im, cosTable, sinTable, size >> 1)
  forwardFrom(re + jump, im + jump, cosTable, sinTable, size >> 1)
}

/** Undoes `forward`, unscaled: the result is `size` times what went in. */
export function inverse(re: usize, im: usize, cosTable: usize, sinTable: usize, cosHalf: usize, sinHalf: usize, size: i32): void {
  if ((size & 0x55555555) != 0) return inverseTo(re, im, cosTable, sinTable, size)
  const jump = <usize>size << 1
  inverseTo(re, im, cosTable, sinTable, size >> 1)
  inverseTo(re + jump, im + jump, cosTable, sinTable, size >> 1)
  for (let at: usize = 0; at < jump; at += 16) {
    const ar = v128.load(re + at)
    const ai = v128.load(im + at)
    const xr = v128.load(re + at + jump)
    const xi = v128.load(im + at + jump)
    const wr = v128.load(cosHalf + at)
    const wi = v128.load(sinHalf + at)
    const br = f32x4.add(f32x4.mul(xr, wr), f32x4.mul(xi, wi))
    const bi = f32x4.sub(f32x4.mul(xi, wr), f32x4.mul(xr, wi))
    v128.store(re + at, f32x4.add(ar, br))
    v128.store(im + at, f32x4.add(ai, bi))
    v128.store(re + at + jump, f32x4.sub(ar, br))
    v128.store(im + at + jump, f32x4.sub(ai, bi))
  }
}

/** Lays a spectrum out anew: value k of the result is the one at index `order[k]`. */
export function reorder(from: usize, to: usize, order: usize, size: i32): void {
  const bytes = <usize>size << 2
  for (let at: usize = 0; at < bytes; at += 16) {
    const o = order + at
    store<f32>(to + at, load<f32>(from + (<usize>load<u32>(o) << 2)))
    store<f32>(to + at, load<f32>(from + (<usize>load<u32>(o, 4) << 2)), 4)
    store<f32>(to + at, load<f32>(from + (<usize>load<u32>(o, 8) << 2)), 8)
    store<f32>(to + at, load<f32>(from + (<usize>load<u32>(o, 12) << 2)), 12)
  }
}

/** Takes `size` values under a window, in place. */
export function underWindow(at: usize, window: usize, size: i32): void {
  const bytes = <usize>size << 2
  for (let n: usize = 0; n < bytes; n += 16) v128.store(at + n, f32x4.mul(v128.load(at + n), v128.load(window + n)))
}

/**
 * Powers of two real signals that were transformed as the real and the imaginary part of one, in natural order: value k of the spectrum stands at
 * index `order[k]`. Of k <= size / 2.
 */
export function powersOfTwo(re: usize, im: usize, order: usize, first: usize, second: usize, size: i32): void {
  for (let k = 0; k <= size >> 1; k++) {
    const at = <usize>load<u32>(order + (<usize>k << 2)) << 2
    const mirrored = <usize>load<u32>(order + (<usize>((size - k) & (size - 1)) << 2)) << 2
    const zr = load<f32>(re + at)
    const zi = load<f32>(im + at)
    const yr = load<f32>(re + mirrored)
    const yi = load<f32>(im + mirrored)
    const ar = zr + yr
    const ai = zi - yi
    const br = zi + yi
    const bi = yr - zr
    const to = <usize>k << 2
    store<f32>(first + to, <f32>0.25 * (ar * ar + ai * ai))
    store<f32>(second + to, <f32>0.25 * (br * br + bi * bi))
  }
}
