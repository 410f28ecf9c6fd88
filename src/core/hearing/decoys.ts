import type { PreparedSound } from './prepare'

/** So many sounds are also listened for backwards: enough to see whether this track provokes false finds, at little cost. */
const DECOYS_MAX = 24

/** Which of the sounds are listened for backwards: spread evenly over the list. */
export function decoyIndices(count: number): number[] {
  const decoys = Math.min(DECOYS_MAX, count)
  return Array.from({ length: decoys }, (_, k) => Math.floor(((k + 0.5) * count) / decoys))
}

/**
 * A sound backwards: as long, as broad and as tonal, but nowhere in the track. What answers to it is chance.
 */
export function decoyOf(sound: PreparedSound): PreparedSound {
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
