/** Sum of the products of all of `a` with `b` from `offset` on, which must be long enough. Four sums at once: one alone would wait for each addition. */
export function dot(a: Float32Array, b: Float32Array, offset: number): number {
  let s0 = 0
  let s1 = 0
  let s2 = 0
  let s3 = 0
  const end = a.length & ~3
  for (let n = 0; n < end; n += 4) {
    const m = n + offset
    s0 += (a[n] as number) * (b[m] as number)
    s1 += (a[n + 1] as number) * (b[m + 1] as number)
    s2 += (a[n + 2] as number) * (b[m + 2] as number)
    s3 += (a[n + 3] as number) * (b[m + 3] as number)
  }
  for (let n = end; n < a.length; n++) s0 += (a[n] as number) * (b[n + offset] as number)
  return s0 + s1 + s2 + s3
}

export function energyOf(samples: Float32Array): number {
  return dot(samples, samples, 0)
}

/** The same direction with norm 1; silence stays silence. */
export function unitNorm(samples: Float32Array): Float32Array {
  const scale = 1 / (Math.sqrt(energyOf(samples)) || 1)
  const out = new Float32Array(samples.length)
  for (let n = 0; n < out.length; n++) out[n] = (samples[n] as number) * scale
  return out
}

/** Arithmetic mean; 0 of no values. */
export function mean(values: ArrayLike<number>): number {
  let sum = 0
  for (let k = 0; k < values.length; k++) sum += values[k] as number
  return sum / Math.max(1, values.length)
}
