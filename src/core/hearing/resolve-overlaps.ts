import { Recent } from '../recent'
import { HEARING_RATE_HZ } from './constants'
import type { PreparedSound, SoundsByIndex } from './prepare'
import type { RawDetection } from './search'
import { spedSound } from './speed'
import { whitenedSound } from './whiten'

/** Two finds whose templates are alike this much or more, at their places, are one find: the weaker one goes. */
const SAME_LIKENESS = 0.7
/** Of two such finds the one that explains more of the track wins, though it answered this much more weakly. */
const RIVAL_SCORE_MIN = 0.75
const RIVAL_EVIDENCE_NATS = 6
/** Where all of one sound is heard and only a part of another that holds it and more, what is heard is the one. */
const WHOLE_SHARE = 0.8
const PART_SHARE = 0.6
const LENGTHS_ALIKE = 0.7
/** Of the energy that is heard of the longer one, so much must lie where the other is. */
const NEARLY_ALL = 0.9
/** How far a find may lie above what its likeness to a stronger one explains before it stands for itself. */
const EXPLAINED_FACTOR = 1.5
const EXPLAINED_OFFSET = 2
/** What a stronger find explains, and answered nearly as much, may be what is there all the same: it is named beside it. */
const ALTERNATIVE_SCORE = 0.8
/** Templates are compared this many frames around the implied displacement: finds are exact to a few frames. */
const WIGGLE_FRAMES = 6
/** The same sound again while it still sounds, this much quieter (-6 dB), is a repeat within it or its own echo. */
const ECHO_GAIN = 0.5
/** What a find at another speed counts against one as it is, with its pitch moving along and with its pitch kept. */
const SPED_RANK = 0.75
const KEPT_RANK = 0.5
/** A find with its pitch kept explains finds of other sounds within it that are weaker than this share of it. */
const KEPT_RIVAL = 0.8
/** From this share on a find as it is is most of the sound. */
const MOST_OF_IT = 0.6
/** What a repeat leaves over is heard by itself from this long on, s, and from this share of it and of its energy on. */
const REST_MIN_S = 0.25
const REST_SHARE = 0.3
const REST_ENERGY = 0.2
/** Of whitened sounds so many frames are held, for finds that overlap the same one (32 MB). */
const TEMPLATES_MAX_FRAMES = 8_000_000
/** Likeness under this is chance. */
const LIKENESS_MIN = 0.08

/** A find that stands, with the other sounds that it may as well be. */
export interface ResolvedDetection extends RawDetection {
  /** Sounds that are the same recording, or that answered alike at this place; not the find's own. */
  readonly alternatives: readonly number[]
}

/**
 * Removes finds that a stronger find explains: the same place found twice, the same recording under another name, or a
 * relative of what is really there.
 *
 * Gentle: an overlapping find is retained unless its template is so like the stronger one that it would have answered to it.
 *
 * @param groups Sounds that are the same recording, as indices.
 * @returns The finds that stand, in order of their place in the track.
 */
export function resolveOverlaps(
  detections: readonly RawDetection[],
  sounds: SoundsByIndex,
  groups: readonly (readonly number[])[] = [],
): ResolvedDetection[] {
  const templates = new Recent<string, Float32Array>(TEMPLATES_MAX_FRAMES, ({ length }) => length)
  const samplesOf = ({ soundIndex }: RawDetection): Float32Array => (sounds.at(soundIndex) as PreparedSound).samples
  const templateOf = (find: RawDetection): Float32Array => {
    const { soundIndex, treatment, speed = 1 } = find
    const playedAt = treatment === 'speed' ? speed : 1
    return templates.get(`${soundIndex} ${playedAt}`, () => {
      const samples = samplesOf(find)
      return whitenedSound(playedAt === 1 ? samples : spedSound(samples, playedAt))
    })
  }
  const groupOf = new Map(groups.flatMap((group) => group.map((index) => [index, group] as const)))
  // What does not overlap has nothing to do with each other: one after another, so that few sounds are held at a time.
  return overlapping(wholeBeforeParts(detections))
    .flatMap((some) => settled(some, { groupOf, templateOf, samplesOf }))
    .sort((a, b) => startOf(a) - startOf(b))
}

interface About {
  readonly groupOf: ReadonlyMap<number, readonly number[]>
  readonly templateOf: (find: RawDetection) => Float32Array
  readonly samplesOf: (find: RawDetection) => Float32Array
}

/** Finds that overlap, if only through others, together. */
function overlapping(detections: readonly RawDetection[]): RawDetection[][] {
  const runs: RawDetection[][] = []
  let end = Number.NEGATIVE_INFINITY
  for (const find of [...detections].sort((a, b) => startOf(a) - startOf(b))) {
    if (startOf(find) < end) runs.at(-1)?.push(find)
    else runs.push([find])
    end = Math.max(end, endOf(find))
  }
  return runs
}

function settled(detections: readonly RawDetection[], { groupOf, templateOf, samplesOf }: About): ResolvedDetection[] {
  const retained: { find: RawDetection; others: Set<number> }[] = []
  for (const next of [...detections].sort((a, b) => rankOf(b) - rankOf(a))) {
    let explained = false
    for (const strong of retained) {
      if (!overlaps(strong.find, next)) continue
      const relation = relationOf(strong.find, next, groupOf, templateOf)
      if (relation === 'apart') continue
      explained = true
      if (relation === 'explained' && isNearlyAsGood(strong.find, next)) strong.others.add(next.soundIndex)
      if (relation === 'same') {
        mergeRivals(strong, next, samplesOf)
        const rest = beyondItsRepeats(next, retained, samplesOf(next))
        if (rest) retained.push({ find: rest, others: new Set() })
      }
      break
    }
    if (!explained) retained.push({ find: next, others: new Set() })
  }
  return retained.map(({ find, others }) => {
    for (const other of groupOf.get(find.soundIndex) ?? []) others.add(other)
    others.delete(find.soundIndex)
    return { ...find, alternatives: [...others].sort((a, b) => a - b) }
  })
}

/** Most sounds are placed in the mix as they are, so another speed must answer more strongly; and many grains add up to high scores. */
function rankOf({ treatment, score }: RawDetection): number {
  return score * (treatment === 'speed' ? SPED_RANK : treatment === 'speed-pitch-kept' ? KEPT_RANK : 1)
}

/**
 * Stretches of a sound whose pitch is kept also answer as they are, each by itself. All of it together says more, unless what
 * answers as it is is most of the sound: then that is the truth, and the line through it a coincidence.
 */
function wholeBeforeParts(detections: readonly RawDetection[]): RawDetection[] {
  const dropped = new Set<RawDetection>()
  for (const whole of detections.filter(isKept)) {
    for (const part of detections) {
      if (isKept(part) || part.soundIndex !== whole.soundIndex || !mostlyWithin(whole, part)) continue
      dropped.add(part.to - part.from < MOST_OF_IT * (whole.to - whole.from) ? part : whole)
    }
  }
  return detections.filter((find) => !dropped.has(find))
}

type Relation = 'apart' | 'explained' | 'same'

function relationOf(
  strong: RawDetection,
  next: RawDetection,
  groupOf: ReadonlyMap<number, readonly number[]>,
  templateOf: (find: RawDetection) => Float32Array,
): Relation {
  if (strong.soundIndex === next.soundIndex) {
    // The same sound at two speeds in one place is one sound.
    if ((strong.speed ?? 1) !== (next.speed ?? 1) && mostlyWithin(strong, next)) return 'explained'
    if (next.gain < ECHO_GAIN * strong.gain) return 'explained'
  } else if (groupOf.get(strong.soundIndex)?.includes(next.soundIndex) && mostlyWithin(strong, next)) return 'same'
  // Grains are not compared one by one; what lies within a stronger find and answers more weakly is its relative.
  if (isKept(strong) || isKept(next))
    return mostlyWithin(strong, next) && (isKept(next) || next.score < KEPT_RIVAL * strong.score)
      ? 'explained'
      : 'apart'
  const likeness = likenessAt(strong, next, templateOf)
  if (likeness >= SAME_LIKENESS) return 'same'
  const reach = EXPLAINED_FACTOR * likeness * strong.score + EXPLAINED_OFFSET
  return likeness > LIKENESS_MIN && next.score < reach ? 'explained' : 'apart'
}

/**
 * What of a find lies beyond all finds of the same sound that are taken for real: a sound that repeats itself, laid end to end, answers at each of its repeats, and
 * what the strongest of them leave over is heard as well. Null where that is too little to be anything.
 */
function beyondItsRepeats(
  next: RawDetection,
  retained: readonly { readonly find: RawDetection }[],
  samples: Float32Array,
): RawDetection | null {
  const speed = next.speed ?? 1
  const own = retained
    .filter(({ find }) => find.soundIndex === next.soundIndex && (find.speed ?? 1) === speed)
    .map(({ find }) => ({ from: startOf(find), to: endOf(find) }))
    .filter(({ from, to }) => from < endOf(next) && to > startOf(next))
    .sort((a, b) => a.from - b.from)
  let longest = { from: 0, to: 0 }
  let at = startOf(next)
  for (const { from, to } of [...own, { from: endOf(next), to: endOf(next) }]) {
    if (from - at > longest.to - longest.from) longest = { from: at, to: from }
    at = Math.max(at, to)
  }
  const length = longest.to - longest.from
  if (own.length === 0 || length < REST_MIN_S * HEARING_RATE_HZ || length < REST_SHARE * (endOf(next) - startOf(next)))
    return null
  const from = frameOf(next, longest.from)
  const to = frameOf(next, longest.to)
  // The pause before the first of its repeats is no repeat.
  if (energyOf(samples, from, to) < REST_ENERGY * energyOf(samples, next.from, next.to)) return null
  return {
    ...next,
    from,
    to,
    fadeIn: longest.from > startOf(next) ? 0 : next.fadeIn,
    fadeOut: longest.to < endOf(next) ? 0 : next.fadeOut,
  }
}

function energyOf(samples: Float32Array, from: number, to: number): number {
  let energy = 0
  for (let n = from; n < to; n++) energy += (samples[n] ?? 0) ** 2
  return energy
}

/** How much of the energy that is heard of one find lies where another is. */
function energyWithin(one: RawDetection, other: RawDetection, samples: Float32Array): number {
  const { from, to } = one
  const first = Math.max(from, frameOf(one, startOf(other)))
  const last = Math.min(to, frameOf(one, endOf(other)))
  return energyOf(samples, first, last) / (energyOf(samples, from, to) || 1)
}

/** Whether another sound answered at one place nearly as much: which of the two it is can hardly be told. */
function isNearlyAsGood(strong: RawDetection, next: RawDetection): boolean {
  return !isKept(next) && mostlyWithin(strong, next) && next.score >= ALTERNATIVE_SCORE * strong.score
}

function mergeRivals(
  strong: { find: RawDetection; others: Set<number> },
  next: RawDetection,
  samplesOf: (find: RawDetection) => Float32Array,
): void {
  const { find } = strong
  strong.others.add(next.soundIndex)
  const lengthOf = (one: RawDetection): number => samplesOf(one).length
  const shareOf = (one: RawDetection): number => (one.to - one.from) / lengthOf(one)
  const explainsMore = next.evidence > find.evidence + RIVAL_EVIDENCE_NATS
  // Sounds of nearly one length are the same recording: a little more or less of them says nothing.
  const isWholeOf = (whole: RawDetection, part: RawDetection): boolean =>
    lengthOf(whole) < LENGTHS_ALIKE * lengthOf(part) &&
    shareOf(whole) > WHOLE_SHARE &&
    shareOf(part) < PART_SHARE &&
    mostlyWithin(part, whole) &&
    energyWithin(part, whole, samplesOf(part)) > NEARLY_ALL
  const isRival = next.soundIndex !== find.soundIndex && next.score > RIVAL_SCORE_MIN * find.score
  if (!isRival || isWholeOf(find, next) || !(explainsMore || isWholeOf(next, find))) return
  strong.others.add(find.soundIndex)
  // The place stays as sure as its best answer.
  strong.find = { ...next, score: find.score }
}

function isKept({ treatment }: RawDetection): boolean {
  return treatment === 'speed-pitch-kept'
}

function startOf({ lag, from, speed = 1 }: RawDetection): number {
  return lag + from / speed
}

function endOf({ lag, to, speed = 1 }: RawDetection): number {
  return lag + to / speed
}

/** Frame of a find's sound that falls on a frame of the track. */
function frameOf({ lag, speed = 1 }: RawDetection, at: number): number {
  return Math.round((at - lag) * speed)
}

function overlaps(a: RawDetection, b: RawDetection): boolean {
  return startOf(a) < endOf(b) && startOf(b) < endOf(a)
}

function mostlyWithin(a: RawDetection, b: RawDetection): boolean {
  const overlap = Math.min(endOf(a), endOf(b)) - Math.max(startOf(a), startOf(b))
  return overlap > 0.5 * Math.min(endOf(a) - startOf(a), endOf(b) - startOf(b))
}

/** Normalised correlation of the two whitened sounds where their heard parts overlap, at its best within a few frames. */
function likenessAt(a: RawDetection, b: RawDetection, templateOf: (find: RawDetection) => Float32Array): number {
  const first = templateOf(a)
  const second = templateOf(b)
  const start = Math.ceil(Math.max(startOf(a), startOf(b)))
  const end = Math.floor(Math.min(endOf(a), endOf(b)))
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
