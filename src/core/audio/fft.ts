import { frameInto } from './frame-into'
import { type CompiledFft, compiledFft, type TwoFrames } from './wasm-fft'

/**
 * Complex fast Fourier transform of one fixed size, radix-4 Stockham (no bit reversal), real and imaginary parts apart. In SIMD
 * WebAssembly where that is there.
 *
 * The object owns its twiddle factors and one scratch buffer, so one instance must not be shared between threads.
 * Source: C. Van Loan, Computational Frameworks for the Fast Fourier Transform, SIAM 1992, section 1.7.
 */
export class Fft {
  readonly size: number
  private readonly compiled: CompiledFft | null
  private readonly cos: Float32Array
  private readonly sin: Float32Array
  private readonly scratchRe: Float32Array
  private readonly scratchIm: Float32Array

  /**
   * @param size A power of two, at least 4. @param compiled Whether SIMD WebAssembly does it where it can; plain code is the reference.
   * @throws {RangeError} for any other size.
   */
  constructor(size: number, compiled = true) {
    if (size < 4 || (size & (size - 1)) !== 0)
      throw new RangeError(`FFT size ${size} is not a power of two of at least 4`)
    this.size = size
    this.compiled = compiled ? compiledFft(size) : null
    const plain = this.compiled ? 0 : size
    this.cos = new Float32Array(plain)
    this.sin = new Float32Array(plain)
    for (let k = 0; k < plain; k++) {
      this.cos[k] = Math.cos((2 * Math.PI * k) / size)
      this.sin[k] = -Math.sin((2 * Math.PI * k) / size)
    }
    this.scratchRe = new Float32Array(plain)
    this.scratchIm = new Float32Array(plain)
  }

  /** Transforms in place, unscaled: X[k] = sum of x[n] exp(-2 pi i k n / size). Both arrays have `size` elements. */
  forward(re: Float32Array, im: Float32Array): void {
    if (this.compiled) this.compiled.forward(re, im)
    else this.plainForward(re, im)
  }

  /** Inverse transform in place, unscaled: divide by `size` for the identity. */
  inverse(re: Float32Array, im: Float32Array): void {
    this.forward(im, re)
  }

  /** Transforms two frames of a sound, the first as the real part and the second as the imaginary one, into both arrays. */
  forwardFrames(re: Float32Array, im: Float32Array, samples: Float32Array, frames: TwoFrames): void {
    if (this.compiled) this.compiled.forwardFrames(re, im, samples, frames)
    else this.plainForwardFrames(re, im, samples, frames)
  }

  /**
   * Powers of the spectra of two frames of a sound, |X[k]|^2 for k <= size / 2.
   *
   * @param first Filled, `size / 2 + 1` values, as is `second`. Each may be off by what single precision is of the louder frame: some 130 dB under it.
   */
  framePowers(first: Float32Array, second: Float32Array, samples: Float32Array, frames: TwoFrames): void {
    if (this.compiled) this.compiled.framePowers(first, second, samples, frames)
    else this.plainFramePowers(first, second, samples, frames)
  }

  private plainFramePowers(first: Float32Array, second: Float32Array, samples: Float32Array, frames: TwoFrames): void {
    const { size } = this
    const [re, im] = [new Float32Array(size), new Float32Array(size)]
    this.plainForwardFrames(re, im, samples, frames)
    for (let k = 0; k <= size / 2; k++) {
      const m = (size - k) % size
      const [zr, zi, yr, yi] = [re[k], im[k], re[m], im[m]] as [number, number, number, number]
      first[k] = ((zr + yr) ** 2 + (zi - yi) ** 2) / 4
      second[k] = ((zi + yi) ** 2 + (yr - zr) ** 2) / 4
    }
  }

  private plainForwardFrames(
    re: Float32Array,
    im: Float32Array,
    samples: Float32Array,
    { first, second, window }: TwoFrames,
  ): void {
    frameInto(re, samples, first)
    if (second === null) im.fill(0)
    else frameInto(im, samples, second)
    for (let n = 0; n < this.size; n++) {
      re[n] = (re[n] as number) * (window[n] as number)
      im[n] = (im[n] as number) * (window[n] as number)
    }
    this.plainForward(re, im)
  }

  private plainForward(re: Float32Array, im: Float32Array): void {
    let fromRe = re
    let fromIm = im
    let toRe = this.scratchRe
    let toIm = this.scratchIm
    let length = this.size
    let stride = 1
    while (length >= 4) {
      this.radix4(fromRe, fromIm, toRe, toIm, length, stride)
      ;[fromRe, toRe] = [toRe, fromRe]
      ;[fromIm, toIm] = [toIm, fromIm]
      length >>= 2
      stride <<= 2
    }
    if (length === 2) {
      radix2(fromRe, fromIm, toRe, toIm, stride)
      ;[fromRe, toRe] = [toRe, fromRe]
      ;[fromIm, toIm] = [toIm, fromIm]
    }
    if (fromRe !== re) {
      re.set(fromRe)
      im.set(fromIm)
    }
  }

  private radix4(
    xr: Float32Array,
    xi: Float32Array,
    yr: Float32Array,
    yi: Float32Array,
    length: number,
    stride: number,
  ): void {
    const quarter = length >> 2
    const step = this.size / length
    const { cos, sin } = this
    const jump = quarter * stride
    for (let p = 0; p < quarter; p++) {
      const w1r = cos[p * step] as number
      const w1i = sin[p * step] as number
      const w2r = cos[2 * p * step] as number
      const w2i = sin[2 * p * step] as number
      const w3r = w1r * w2r - w1i * w2i
      const w3i = w1r * w2i + w1i * w2r
      const from = p * stride
      const to = 4 * p * stride
      for (let q = 0; q < stride; q++) {
        const i0 = from + q
        const i1 = i0 + jump
        const i2 = i1 + jump
        const i3 = i2 + jump
        const ar = xr[i0] as number
        const ai = xi[i0] as number
        const br = xr[i1] as number
        const bi = xi[i1] as number
        const cr = xr[i2] as number
        const ci = xi[i2] as number
        const dr = xr[i3] as number
        const di = xi[i3] as number
        const sr = ar + cr
        const si = ai + ci
        const tr = ar - cr
        const ti = ai - ci
        const ur = br + dr
        const ui = bi + di
        const vr = br - dr
        const vi = bi - di
        const o0 = to + q
        const o1 = o0 + stride
        const o2 = o1 + stride
        const o3 = o2 + stride
        yr[o0] = sr + ur
        yi[o0] = si + ui
        const er = tr + vi
        const ei = ti - vr
        yr[o1] = er * w1r - ei * w1i
        yi[o1] = er * w1i + ei * w1r
        const fr = sr - ur
        const fi = si - ui
        yr[o2] = fr * w2r - fi * w2i
        yi[o2] = fr * w2i + fi * w2r
        const gr = tr - vi
        const gi = ti + vr
        yr[o3] = gr * w3r - gi * w3i
        yi[o3] = gr * w3i + gi * w3r
      }
    }
  }
}

function radix2(xr: Float32Array, xi: Float32Array, yr: Float32Array, yi: Float32Array, stride: number): void {
  for (let q = 0; q < stride; q++) {
    const ar = xr[q] as number
    const ai = xi[q] as number
    const br = xr[q + stride] as number
    const bi = xi[q + stride] as number
    yr[q] = ar + br
    yi[q] = ai + bi
    yr[q + stride] = ar - br
    yi[q + stride] = ai - bi
  }
}
