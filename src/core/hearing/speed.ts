/** Taps of the interpolation, and positions between two samples that are tabulated. */
const TAPS = 16
const PHASES = 512

/** Slowest and fastest playing that is looked for: a little beyond 0.8 and 1.25, the range that is promised. */
export const SPEED_MIN = 0.78
export const SPEED_MAX = 1.28

/**
 * A stretch of a sound as it is heard when it is played at another speed, pitch and all.
 *
 * @param speed Above 1 is faster and higher. @param centre Frame of the sound that falls on the middle frame of the stretch.
 * @param frames Length of the stretch. Outside the sound is silence.
 */
export function spedStretch(samples: Float32Array, speed: number, centre: number, frames: number): Float32Array {
  const table = tapTable(speed)
  const out = new Float32Array(frames)
  const middle = frames >> 1
  // Each sample is read sixteen times: in double precision it need not be converted each time.
  const low = Math.max(0, Math.floor(centre - speed * middle) - TAPS)
  const near = new Float64Array(samples.subarray(low, Math.ceil(centre + speed * (frames - middle)) + TAPS))
  for (let n = 0; n < frames; n++) {
    const at = centre + speed * (n - middle)
    const whole = Math.floor(at)
    const row = Math.round((at - whole) * PHASES) * TAPS
    const first = whole - TAPS / 2 + 1 - low
    if (first < 0 || first + TAPS > near.length) {
      for (let k = Math.max(0, -first); k < Math.min(TAPS, near.length - first); k++)
        out[n] = (out[n] as number) + (table[row + k] as number) * (near[first + k] as number)
      continue
    }
    // Four sums: one alone would wait for each addition.
    let s0 = 0
    let s1 = 0
    let s2 = 0
    let s3 = 0
    for (let k = 0; k < TAPS; k += 4) {
      const from = row + k
      const to = first + k
      s0 += (table[from] as number) * (near[to] as number)
      s1 += (table[from + 1] as number) * (near[to + 1] as number)
      s2 += (table[from + 2] as number) * (near[to + 2] as number)
      s3 += (table[from + 3] as number) * (near[to + 3] as number)
    }
    out[n] = s0 + s1 + s2 + s3
  }
  return out
}

/** All of a sound, played at another speed. */
export function spedSound(samples: Float32Array, speed: number): Float32Array {
  const frames = Math.max(1, Math.round(samples.length / speed))
  return spedStretch(samples, speed, (frames >> 1) * speed, frames)
}

const tables = new Map<number, Float64Array>()

/** Windowed sinc for each phase; the pass band narrows where playing is faster, so that nothing folds back. */
function tapTable(speed: number): Float64Array {
  // A hundredth of the band does not matter; so the tables can be shared.
  const cutoff = Math.min(1, Math.round(100 / speed) / 100)
  const known = tables.get(cutoff)
  if (known) return known
  const table = new Float64Array((PHASES + 1) * TAPS)
  for (let phase = 0; phase <= PHASES; phase++) {
    for (let k = 0; k < TAPS; k++) {
      const x = k - TAPS / 2 + 1 - phase / PHASES
      const angle = Math.PI * x * cutoff
      const sinc = Math.abs(angle) < 1e-9 ? 1 : Math.sin(angle) / angle
      table[phase * TAPS + k] = cutoff * sinc * Math.cos((Math.PI * x) / (TAPS + 1)) ** 2
    }
  }
  tables.set(cutoff, table)
  return table
}
