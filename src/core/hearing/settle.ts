import type { PreparedSound } from './prepare'
import type { RawDetection } from './search'
import { whitenedSound } from './whiten'

/** Two finds whose templates are alike this much or more, at their places, are one find: the weaker one goes. */
const SAME_LIKENESS = 0.7
/** How far a find may lie above what its likeness to a stronger one explains before it stands for itself. */
const EXPLAINED_FACTOR = 1.5
const EXPLAINED_OFFSET = 2
/** Templates are compared this many frames around the implied displacement: finds are exact to a few frames. */
const WIGGLE_FRAMES = 6
/** The same sound again while it still sounds, this much quieter (-6 dB), is a repeat within it or its own echo. */
const ECHO_GAIN = 0.5
/** Likeness under this is chance. */
const LIKENESS_MIN = 0.08

/**
 * Removes finds that a stronger find explains: the same place found twice, or a relative of what is really there.
 *
 * Gentle: an overlapping find is kept unless its template is so like the stronger one that it would have answered to it.
 *
 * @returns The finds that stand, in order of their place in the track.
 */
export function settledDetections(
  detections: readonly RawDetection[],
  sounds: readonly (PreparedSound | null)[],
): RawDetection[] {
  const templates = new Map<number, Float32Array>()
  const templateOf = (index: number): Float32Array => {
    const known = templates.get(index)
    if (known) return known
    const made = whitenedSound((sounds[index] as PreparedSound).samples)
    templates.set(index, made)
    return made
  }
  const kept: RawDetection[] = []
  for (const next of [...detections].sort((a, b) => b.score - a.score)) {
    const explained = kept.some((strong) => {
      if (!overlaps(strong, next)) return false
      if (strong.soundIndex === next.soundIndex && next.gain < ECHO_GAIN * strong.gain) return true
      const likeness = likenessAt(strong, next, templateOf)
      if (likeness >= SAME_LIKENESS) return true
      return likeness > LIKENESS_MIN && next.score < EXPLAINED_FACTOR * likeness * strong.score + EXPLAINED_OFFSET
    })
    if (!explained) kept.push(next)
  }
  return kept.sort((a, b) => a.lag + a.from - (b.lag + b.from))
}

function overlaps(a: RawDetection, b: RawDetection): boolean {
  return a.lag + a.from < b.lag + b.to && b.lag + b.from < a.lag + a.to
}

/** Normalised correlation of the two whitened sounds where their heard parts overlap, at its best within a few frames. */
function likenessAt(a: RawDetection, b: RawDetection, templateOf: (index: number) => Float32Array): number {
  const first = templateOf(a.soundIndex)
  const second = templateOf(b.soundIndex)
  const start = Math.max(a.lag + a.from, b.lag + b.from)
  const end = Math.min(a.lag + a.to, b.lag + b.to)
  let best = 0
  for (let wiggle = -WIGGLE_FRAMES; wiggle <= WIGGLE_FRAMES; wiggle++) {
    let cross = 0
    let firstEnergy = 0
    let secondEnergy = 0
    for (let t = start; t < end; t++) {
      const x = first[t - a.lag] ?? 0
      const y = second[t - b.lag + wiggle] ?? 0
      cross += x * y
      firstEnergy += x * x
      secondEnergy += y * y
    }
    const norm = Math.sqrt(firstEnergy * secondEnergy)
    if (norm > 0) best = Math.max(best, Math.abs(cross) / norm)
  }
  return best
}
