import { type Chance, filtered, inRoom, RATE_HZ } from '../../demo/synthesis/toolkit'
import type { BenchSound } from './material'

type Channels = Pick<BenchSound, 'left' | 'right'>

/** Applies a treatment of one channel to both. */
function both({ left, right }: Channels, treat: (samples: Float32Array) => Float32Array): Channels {
  const treated = treat(left)
  return { left: treated, right: left === right ? treated : treat(right) }
}

/** Played faster or slower, as a tape: pitch moves along. Windowed-sinc interpolation. */
export function spedWithPitch(sound: Channels, speed: number): Channels {
  const half = 16
  const cutoff = Math.min(1, 1 / speed)
  return both(sound, (samples) => {
    const out = new Float32Array(Math.floor(samples.length / speed))
    for (let n = 0; n < out.length; n++) {
      const at = n * speed
      const centre = Math.floor(at)
      let sum = 0
      for (let k = centre - half + 1; k <= centre + half; k++) {
        const x = at - k
        const sinc = Math.abs(x) < 1e-9 ? 1 : Math.sin(Math.PI * x * cutoff) / (Math.PI * x * cutoff)
        sum += (samples[k] ?? 0) * sinc * cutoff * Math.cos((Math.PI * x) / (2 * half)) ** 2
      }
      out[n] = sum
    }
    return out
  })
}

/** Length of the grains and how far each may move to fit its forerunner, s. */
const GRAIN_S = 0.05
const MOVE_S = 0.012

/** Played faster or slower with the pitch kept: overlapping grains, each moved to where it fits the last one best. Source: W. Verhelst and M. Roelands, 1993. */
export function stretchedInTime({ left, right }: Channels, speed: number): Channels {
  const grain = Math.round(GRAIN_S * RATE_HZ)
  const hop = grain / 2
  const moves = Math.round(MOVE_S * RATE_HZ)
  const length = Math.floor(left.length / speed)
  const outLeft = new Float32Array(length)
  const outRight = new Float32Array(length)
  let follow = 0
  for (let at = 0; at < length; at += hop) {
    const wanted = Math.round(at * speed)
    let best = wanted
    if (at > 0) {
      let highest = Number.NEGATIVE_INFINITY
      for (let move = -moves; move <= moves; move += 4) {
        let score = 0
        for (let n = 0; n < hop; n += 4) score += (left[follow + n] ?? 0) * (left[wanted + move + n] ?? 0)
        if (score > highest) {
          highest = score
          best = wanted + move
        }
      }
    }
    for (let n = 0; n < grain && at + n < length; n++) {
      const window = Math.sin((Math.PI * (n + 0.5)) / grain) ** 2
      outLeft[at + n] = (outLeft[at + n] as number) + window * (left[best + n] ?? 0)
      outRight[at + n] = (outRight[at + n] as number) + window * (right[best + n] ?? 0)
    }
    follow = best + hop
  }
  return { left: outLeft, right: outRight }
}

/** Heard through a wall: two second-order low-passes one after the other. */
export function muffled(sound: Channels, cutoffHz: number): Channels {
  return both(sound, (samples) => filtered(filtered(samples, 'low', cutoffHz), 'low', cutoffHz))
}

/** In a room with a tail. */
export function roomy(sound: Channels, tailS: number, wet: number, chance: Chance): Channels {
  const mono = sound.left.map((value, i) => 0.5 * (value + (sound.right[i] as number)))
  const [left, right] = inRoom(mono, tailS, wet, chance)
  return { left, right }
}
