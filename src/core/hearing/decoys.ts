import { HEARING_RATE_HZ } from './constants'
import { type PreparedSound, preparedSound } from './prepare'
import { soundKind } from './sound-kind'
import { spedSound } from './speed'

/** So many sounds are also listened for as decoys: enough to see whether this track provokes false finds, at little cost. */
const DECOYS_MAX = 24
/** A tone is moved by half an octave: beyond the speeds that are searched, and where few of its partials meet its own. */
const TONE_SHIFT = Math.SQRT2
/**
 * A click is smeared by all-pass sections of these delays, frames (0.2 to 3.8 ms), that give on so much at once. Measured on fifteen clicks: backwards alone they
 * are like themselves to 0.35, backwards and smeared to 0.27.
 */
const SMEAR_DELAYS = [3, 5, 11, 17, 29, 41, 61]
const SMEAR_GAIN = 0.6
/** What is smeared runs on beyond the end of the sound, frames (64 ms). */
const SMEAR_TAIL = 1024

/** Which of the sounds are also listened for as decoys: spread evenly over the list. */
export function decoyIndices(count: number): number[] {
  const decoys = Math.min(DECOYS_MAX, count)
  return Array.from({ length: decoys }, (_, k) => Math.floor(((k + 0.5) * count) / decoys))
}

/**
 * A sound that is nowhere in the track, and of the same kind as the one that it is made from: what answers to it is chance.
 *
 * Backwards, it is as long and as broad. A tone or a click would answer to itself backwards, though: a tone is moved to another pitch and keeps its
 * rise and fall, a click also has its frequencies put out of step and stays as short.
 */
export function decoyOf(sound: PreparedSound): PreparedSound {
  const kind = soundKind(sound.samples, HEARING_RATE_HZ)
  const changed = kind === 'tone' ? moved(sound) : kind === 'click' ? smeared(sound.samples.slice().reverse()) : null
  const decoy = changed && preparedSound(changed)
  return decoy ? { ...decoy, marks: new Uint32Array(0) } : backwards(sound)
}

function backwards(sound: PreparedSound): PreparedSound {
  const frames = sound.samples.length
  return {
    ...sound,
    samples: sound.samples.slice().reverse(),
    pieces: sound.pieces.map((piece) => ({
      ...piece,
      start: frames - piece.start - piece.samples.length,
      samples: piece.samples.slice().reverse(),
    })),
    marks: new Uint32Array(0),
  }
}

/** At another pitch: higher, or lower where the band would end. */
function moved({ samples, pieces }: PreparedSound): Float32Array {
  const lowShare = pieces[0]?.lowShares[1] ?? 1
  return spedSound(samples, lowShare > 0.5 ? TONE_SHIFT : 1 / TONE_SHIFT)
}

/**
 * The same spectrum with its frequencies out of step.
 *
 * Source: M. R. Schroeder, "Natural sounding artificial reverberation", 1962 (the all-pass section).
 */
function smeared(samples: Float32Array): Float32Array {
  let from = new Float32Array(samples.length + SMEAR_TAIL)
  from.set(samples)
  for (const delay of SMEAR_DELAYS) {
    const to = new Float32Array(from.length)
    for (let n = 0; n < from.length; n++)
      to[n] = -SMEAR_GAIN * (from[n] as number) + (from[n - delay] ?? 0) + SMEAR_GAIN * (to[n - delay] ?? 0)
    from = to
  }
  return from
}
