import type { PreparedSound } from './prepare'
import type { RawDetection } from './search'
import { whitenedSound } from './whiten'

/** Two finds whose templates are alike this much or more, at their places, are one find: the weaker one goes. */
const SAME_LIKENESS = 0.7
/** Of two such finds the one that explains more of the track wins, though it answered this much more weakly. */
const RIVAL_SCORE_MIN = 0.75
const RIVAL_EVIDENCE_NATS = 6
/** How far a find may lie above what its likeness to a stronger one explains before it stands for itself. */
const EXPLAINED_FACTOR = 1.5
const EXPLAINED_OFFSET = 2
/** Templates are compared this many frames around the implied displacement: finds are exact to a few frames. */
const WIGGLE_FRAMES = 6
/** The same sound again while it still sounds, this much quieter (-6 dB), is a repeat within it or its own echo. */
const ECHO_GAIN = 0.5
/** Likeness under this is chance. */
const LIKENESS_MIN = 0.08

/** A find that stands, with the other sounds that it may as well be. */
export interface SettledDetection extends RawDetection {
  /** Sounds that are the same recording, or that answered alike at this place; not the find's own. */
  readonly alternatives: readonly number[]
}

/**
 * Removes finds that a stronger find explains: the same place found twice, the same recording under another name, or a
 * relative of what is really there.
 *
 * Gentle: an overlapping find is kept unless its template is so like the stronger one that it would have answered to it.
 *
 * @param groups Sounds that are the same recording, as indices.
 * @returns The finds that stand, in order of their place in the track.
 */
export function settledDetections(
  detections: readonly RawDetection[],
  sounds: readonly (PreparedSound | null)[],
  groups: readonly (readonly number[])[] = [],
): SettledDetection[] {
  const templates = new Map<number, Float32Array>()
  const templateOf = (index: number): Float32Array => {
    const known = templates.get(index)
    if (known) return known
    const made = whitenedSound((sounds[index] as PreparedSound).samples)
    templates.set(index, made)
    return made
  }
  const groupOf = new Map(groups.flatMap((group) => group.map((index) => [index, group] as const)))
  const kept: { find: RawDetection; others: Set<number> }[] = []
  for (const next of [...detections].sort((a, b) => b.score - a.score)) {
    let explained = false
    for (const strong of kept) {
      if (!overlaps(strong.find, next)) continue
      const relation = relationOf(strong.find, next, groupOf, templateOf)
      if (relation === 'apart') continue
      explained = true
      if (relation === 'same') mergeRivals(strong, next)
      break
    }
    if (!explained) kept.push({ find: next, others: new Set() })
  }
  return kept
    .map(({ find, others }) => {
      for (const other of groupOf.get(find.soundIndex) ?? []) others.add(other)
      others.delete(find.soundIndex)
      return { ...find, alternatives: [...others].sort((a, b) => a - b) }
    })
    .sort((a, b) => a.lag + a.from - (b.lag + b.from))
}

type Relation = 'apart' | 'explained' | 'same'

function relationOf(
  strong: RawDetection,
  next: RawDetection,
  groupOf: ReadonlyMap<number, readonly number[]>,
  templateOf: (index: number) => Float32Array,
): Relation {
  if (strong.soundIndex === next.soundIndex) {
    if (next.gain < ECHO_GAIN * strong.gain) return 'explained'
  } else if (groupOf.get(strong.soundIndex)?.includes(next.soundIndex) && mostlyWithin(strong, next)) return 'same'
  const likeness = likenessAt(strong, next, templateOf)
  if (likeness >= SAME_LIKENESS) return 'same'
  const reach = EXPLAINED_FACTOR * likeness * strong.score + EXPLAINED_OFFSET
  return likeness > LIKENESS_MIN && next.score < reach ? 'explained' : 'apart'
}

function mergeRivals(strong: { find: RawDetection; others: Set<number> }, next: RawDetection): void {
  const { find } = strong
  strong.others.add(next.soundIndex)
  const explainsMore =
    next.soundIndex !== find.soundIndex &&
    next.score > RIVAL_SCORE_MIN * find.score &&
    next.evidence > find.evidence + RIVAL_EVIDENCE_NATS
  if (!explainsMore) return
  strong.others.add(find.soundIndex)
  // The place stays as sure as its best answer.
  strong.find = { ...next, score: find.score }
}

function overlaps(a: RawDetection, b: RawDetection): boolean {
  return a.lag + a.from < b.lag + b.to && b.lag + b.from < a.lag + a.to
}

function mostlyWithin(a: RawDetection, b: RawDetection): boolean {
  const overlap = Math.min(a.lag + a.to, b.lag + b.to) - Math.max(a.lag + a.from, b.lag + b.from)
  return overlap > 0.5 * Math.min(a.to - a.from, b.to - b.from)
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
