import type { CellTransform } from './cells'
import { halved, halvedTimes, type PreparedWindow, whitenedStretch } from './correlate'
import { heardAround } from './excerpt'
import type { PreparedSound } from './prepare'
import { dot, energyOf } from './products'
import type { RawDetection } from './search'
import { spedSound, spedStretch } from './speed'
import type { Track } from './track'
import { COHERENCE_WEIGHT, Verifier } from './verify'
import { whitenedSound } from './whiten'

/** A whitened sound in all of its band and in the lower half. */
export type Bands = readonly [whole: Float32Array, half: Float32Array]

export function whitenedBands(samples: Float32Array): Bands {
  const whole = whitenedSound(samples)
  return [whole, halved(whole)]
}

/** Where a stretch of a sound may be, and at which speed. */
export interface SpedPlace {
  readonly speed: number
  /** Frame of the track on which the middle of the stretch falls. */
  readonly at: number
  readonly z: number
}

/** Halving needs this much around a stretch, frames. */
const MARGIN = 32

/** The speed and place around a first guess at which a stretch of a sound stands out most. */
export function bestFit(
  window: PreparedWindow,
  whitened: Bands,
  centre: number,
  soundFrames: number,
  guess: SpedPlace,
  {
    step,
    steps,
    lags,
    halvings,
  }: { readonly step: number; readonly steps: number; readonly lags: number; readonly halvings: 0 | 1 },
): SpedPlace {
  const rate = 1 << halvings
  const frames = 2 * Math.ceil(soundFrames / (guess.speed * (1 - step * steps)) / rate / 2)
  const wide = frames + 2 * lags
  const from = Math.round(guess.at) - rate * ((frames >> 1) + lags)
  const margin = halvings * MARGIN
  const whole = whitenedStretch(window, from - margin, from + rate * wide + margin)
  const around = halvedTimes(whole, halvings).subarray(margin / rate)
  const square = energyOf(around.subarray(0, wide)) / wide || 1
  const half = soundFrames >> 1
  const cutFrom = rate * Math.floor(Math.max(0, centre - half) / rate)
  const cut = whitened[halvings].subarray(cutFrom / rate, (centre + half) / rate)
  let best: SpedPlace = { ...guess, z: 0 }
  for (let k = -steps; k <= steps; k++) {
    const speed = guess.speed * (1 + k * step)
    const stretch = spedStretch(cut, speed, (centre - cutFrom) / rate, frames)
    const norm = Math.sqrt(energyOf(stretch) * square) || 1
    for (let lag = 0; lag <= 2 * lags; lag++) {
      const z = dot(stretch, around, lag) / norm
      if (z > best.z) best = { speed, at: from + rate * (lag + (frames >> 1)), z }
    }
  }
  return best
}

/**
 * Holds a sound against the track at a place and speed where a stretch of it was found.
 *
 * @param found Where the middle of the stretch lies. @param centre Middle of the stretch, frame of the sound, and its length.
 * @param cost By how much the height must be lowered, as so many places and speeds were tried.
 */
export function verifiedAtSpeed(
  track: Track,
  cells: CellTransform,
  sound: PreparedSound,
  found: SpedPlace,
  {
    centre,
    frames,
    soundIndex,
    scoreMin,
    cost,
  }: {
    readonly centre: number
    readonly frames: number
    readonly soundIndex: number
    readonly scoreMin: number
    readonly cost: number
  },
): RawDetection | null {
  const { speed } = found
  const around = { from: centre - frames / 2, to: centre + frames / 2 }
  const place = heardAround(sound, around, ({ sound: excerpt, start }) => {
    const played: PreparedSound = { ...excerpt, samples: spedSound(excerpt.samples, speed), pieces: [] }
    const middle = (centre - start) / speed
    const lag = Math.round(found.at - middle)
    const verification = new Verifier(cells, played, scoreMin / COHERENCE_WEIGHT).verify(track, lag, {
      from: Math.max(0, Math.round(middle - frames / 2)),
      to: Math.min(played.samples.length, Math.round(middle + frames / 2)),
    })
    const end = excerpt.samples.length
    return (
      verification && {
        ...verification,
        lag,
        from: verification.from * speed,
        to: Math.min(end, verification.to * speed),
      }
    )
  })
  if (!place) return null
  const { evidence, coherence, from, to } = place.heard
  const score = Math.min(found.z, COHERENCE_WEIGHT * coherence, Math.sqrt(2 * Math.max(0, evidence))) - cost
  if (score < scoreMin || to - from < 0.9 * Math.min(frames * speed, sound.samples.length)) return null
  const lag = Math.round(place.heard.lag - place.start / speed)
  return { ...place.heard, soundIndex, lag, score, speed, treatment: 'speed' }
}
