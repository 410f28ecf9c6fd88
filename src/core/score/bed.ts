import { score as messages } from '../wording/score'
import { type SourceFacts, splitInTwo, trimmed, withSafeEnds } from './arrange'
import type { ScoreEdit } from './edits'
import { lineValue } from './lines'
import { type BreakPoint, type Placement, SCORE_LIMITS, type Score } from './score'
import { ScoreError } from './score-error'
import { placementEndS, placementLengthS } from './timing'

/** One stem or part of a bed as it is placed. */
export interface BedSource {
  /** Id that nobody has. */
  readonly id: string
  readonly audio: Placement['audio']
  readonly source: SourceFacts
}

/** All placements of the beds that some placements are of, with those that stand alone, in the order of the score. */
export function wholeBeds({ placements }: Pick<Score, 'placements'>, some: readonly Placement[]): Placement[] {
  const ids = new Set(some.map(({ id }) => id))
  const beds = new Set(some.flatMap(({ bed }) => (bed ? [bed.id] : [])))
  return placements.filter(({ id, bed }) => ids.has(id) || (bed !== null && beds.has(bed.id)))
}

/** The placement that speaks for some that are one thing: for one alone, or for all of one bed; null for several things. */
export function oneThing(placements: readonly Placement[]): Placement | null {
  const [first] = placements
  if (!first) return null
  const isOne = placements.length === 1 || placements.every(({ bed }) => bed !== null && bed.id === first.bed?.id)
  return isOne ? first : null
}

/** A placed bed taken apart into its stems: each is heard where and as the whole was, and has a level of its own from then on. */
export function inStems(
  placement: Placement,
  { bedId, soundId, stems }: { readonly bedId: string; readonly soundId: number; readonly stems: readonly BedSource[] },
): ScoreEdit {
  const toS = Math.min(placement.toS, ...stems.map(({ source }) => source.durationS))
  return inPlaceOf(
    [placement],
    stems.map(({ id, audio, source }) =>
      withSafeEnds({ ...placement, id, audio, toS, bed: { id: bedId, kind: 'stems', soundId, joins: 'none' } }, source),
    ),
  )
}

/** The parts of a bed in the order in which they are played. The loop is repeated. */
export interface BedParts {
  readonly opening: BedSource
  readonly loop: BedSource
  readonly ending: BedSource
}

/** How many times the loop is played for a length to be come nearest to. */
export function loopsFor({ opening, loop, ending }: BedParts, wantedS: number): number {
  const restS = wantedS - opening.source.durationS - ending.source.durationS
  return Math.min(SCORE_LIMITS.repeats, Math.max(1, Math.round(restS / loop.source.durationS)))
}

/**
 * A bed put together of its library's own parts: opening, as many loops as come nearest to a length, ending. They are made to join, so that nothing is faded
 * between them.
 *
 * @param placed What stands there now: a placement of the whole, or the parts of before.
 */
export function inParts(
  placed: readonly Placement[],
  {
    bedId,
    soundId,
    parts,
    wantedS,
  }: { readonly bedId: string; readonly soundId: number; readonly parts: BedParts; readonly wantedS: number },
): ScoreEdit {
  const [first] = placed
  const last = placed[placed.length - 1]
  if (!first || !last) throw new ScoreError('not-there', messages.oneTheseNotThereAny)
  const { opening, loop, ending } = parts
  const times = loopsFor(parts, wantedS)
  const plain = {
    ...first,
    fromS: 0,
    rate: 1,
    keepsPitch: false,
    isReversed: false,
    gainPoints: [],
    panPoints: [],
    hitS: null,
    hitRepeat: 0,
    treatmentChange: null,
  }
  const bed = { id: bedId, kind: 'parts', soundId } as const
  const loopS = loop.source.durationS
  const loopAtS = first.startS + opening.source.durationS
  const made: Placement[] = [
    {
      ...plain,
      id: opening.id,
      audio: opening.audio,
      toS: opening.source.durationS,
      assembly: null,
      fadeOut: null,
      bed: { ...bed, joins: 'end' },
    },
    {
      ...plain,
      id: loop.id,
      audio: loop.audio,
      toS: loopS,
      assembly: times === 1 ? null : [{ fromS: 0, toS: loopS, times, seamS: 0 }],
      startS: loopAtS,
      fadeIn: null,
      fadeOut: null,
      bed: { ...bed, joins: 'both' },
      target: null,
    },
    {
      ...plain,
      id: ending.id,
      audio: ending.audio,
      toS: ending.source.durationS,
      assembly: null,
      startS: loopAtS + times * loopS,
      fadeIn: null,
      fadeOut: last.fadeOut,
      bed: { ...bed, joins: 'start' },
      target: null,
    },
  ]
  const sources = [opening.source, loop.source, ending.source]
  return inPlaceOf(
    placed,
    made.map((one, at) => withSafeEnds(one, sources[at] as SourceFacts)),
  )
}

/** A bed as one sound again, over all the time that it took; the level of its first stem or part is kept. */
export function asOneSound(members: readonly Placement[], { id, audio, source }: BedSource): ScoreEdit {
  const [first] = members
  if (!first) throw new ScoreError('not-there', messages.oneTheseNotThereAny)
  const isParts = first.bed?.kind === 'parts'
  const whole: Placement = {
    ...first,
    id,
    audio,
    bed: null,
    gainPoints: isParts ? first.gainPoints : [],
    ...(isParts ? { fromS: 0, toS: source.durationS, assembly: null } : { toS: Math.min(first.toS, source.durationS) }),
  }
  return inPlaceOf(members, [withSafeEnds(whole, source)])
}

function inPlaceOf(before: readonly Placement[], after: readonly Placement[]): ScoreEdit {
  return {
    do: 'all',
    edits: [
      { do: 'remove', ids: before.map(({ id }) => id) },
      { do: 'add', placements: after },
    ],
  }
}

/** An end of a whole bed trimmed. @throws {ScoreError} bad-time, bad-value. */
export function trimmedBed(
  members: readonly Placement[],
  {
    end,
    toVideoS,
    sourceOf,
  }: {
    readonly end: 'start' | 'end'
    readonly toVideoS: number
    readonly sourceOf: (placement: Placement) => SourceFacts
  },
): ScoreEdit {
  const inTime = [...members].sort((a, b) => a.startS - b.startS)
  // Of parts the one that lies at that end is trimmed; stems are trimmed all alike.
  const outer = end === 'start' ? inTime[0] : inTime[inTime.length - 1]
  const taken = outer?.bed?.kind === 'parts' ? [outer] : inTime
  return {
    do: 'change',
    changes: taken.flatMap((one) => trimmed(one, { end, toVideoS, source: sourceOf(one) }).changes),
  }
}

/**
 * A bed split at a time in the video into two things.
 *
 * @param ids Ids that nobody has: one for each member, and one for the second bed. @throws {ScoreError} bad-time, bad-value.
 */
export function splitBed(
  members: readonly Placement[],
  { atS, ids, bedId }: { readonly atS: number; readonly ids: readonly string[]; readonly bedId: string },
): ScoreEdit {
  const within = members.filter((one) => one.startS < atS && atS < placementEndS(one))
  if (within.length === 0) throw new ScoreError('bad-time', messages.playheadNotWithinThisSound)
  const second = (one: Placement): Placement => ({ ...one, bed: one.bed && { ...one.bed, id: bedId } })
  const halves = within.map((one, at) => splitInTwo(one, { atS, id: ids[at] as string }))
  // All at once: what is changed of one stem alone would be changed of the others too.
  const changes = halves.flatMap(({ first }) => first.changes)
  const later = members
    .filter(({ startS }) => startS >= atS)
    .map((one) => ({ id: one.id, to: { bed: second(one).bed } }))
  return {
    do: 'all',
    edits: [
      { do: 'change', changes: [...changes, ...later] },
      { do: 'add', placements: halves.map((one) => second(one.second)) },
    ],
  }
}

/** A whole bed once more, right after itself. @param ids Ids that nobody has: one for each member, and one for the new bed. */
export function duplicatedBed(
  members: readonly Placement[],
  { ids, bedId }: { readonly ids: readonly string[]; readonly bedId: string },
): ScoreEdit {
  const startS = Math.min(...members.map((one) => one.startS))
  const byS = Math.max(...members.map(placementEndS)) - startS
  return {
    do: 'add',
    placements: members.map((one, at) => ({
      ...one,
      id: ids[at] as string,
      startS: one.startS + byS,
      target: null,
      bed: one.bed && { ...one.bed, id: bedId },
    })),
  }
}

/** How long a bed takes to go down and up. */
const RAMP_S = 0.4

/**
 * A line that lowers a stem while someone speaks, on top of the line that it has. Where two speak close after each other it stays down.
 *
 * @param spoken In the video, in order. @param depthDb How far, more than 0.
 */
export function thinnerUnder(
  placement: Placement,
  spoken: readonly { readonly startS: number; readonly endS: number }[],
  depthDb: number,
): BreakPoint[] {
  const lengthS = placementLengthS(placement)
  const dips: { fromS: number; toS: number }[] = []
  for (const { startS, endS } of spoken) {
    const fromS = Math.max(0, startS - placement.startS)
    const toS = Math.min(lengthS, endS - placement.startS)
    if (toS <= fromS) continue
    const before = dips[dips.length - 1]
    if (before && fromS - before.toS < 3 * RAMP_S) before.toS = toS
    else dips.push({ fromS, toS })
  }
  const corners = dips.flatMap(({ fromS, toS }) => [
    // Where someone speaks already, or still, it is down at once.
    ...(fromS > 0 ? [{ atS: Math.max(0, fromS - RAMP_S), downDb: 0 }] : []),
    { atS: fromS, downDb: depthDb },
    { atS: toS, downDb: depthDb },
    ...(toS < lengthS ? [{ atS: Math.min(lengthS, toS + RAMP_S), downDb: 0 }] : []),
  ])
  return lowered(placement.gainPoints, corners)
}

/** A line that holds a stem back until an instant of the video, and lets it come up to where it is from there. */
export function fullerFrom(placement: Placement, atVideoS: number, depthDb: number): BreakPoint[] {
  const atS = atVideoS - placement.startS
  if (!(atS > 0 && atS < placementLengthS(placement))) throw new ScoreError('bad-time', messages.thatNotWithinThisSound)
  return lowered(placement.gainPoints, [
    { atS: 0, downDb: depthDb },
    { atS: Math.max(0, atS - RAMP_S), downDb: depthDb },
    { atS, downDb: 0 },
  ])
}

/** A line less another one: at the points of both. Before the first corner and after the last it goes on as there. */
function lowered(
  points: readonly BreakPoint[],
  corners: readonly { readonly atS: number; readonly downDb: number }[],
): BreakPoint[] {
  if (corners.length === 0) return [...points]
  const down = corners.map(({ atS, downDb }) => ({ atS, value: downDb }))
  const timesS = [...new Set([...points.map(({ atS }) => atS), ...down.map(({ atS }) => atS)])].sort((a, b) => a - b)
  if (timesS.length > SCORE_LIMITS.breakPoints)
    throw new ScoreError('too-many', messages.lineHasAtMostBreak(SCORE_LIMITS.breakPoints))
  return timesS.map((atS) => ({
    atS,
    value: Math.max(SCORE_LIMITS.gainDb.least, lineValue(points, atS) - lineValue(down, atS)),
  }))
}

/** How many things are placed: a bed is one, whatever it is in. */
export function countThings({ placements }: Pick<Score, 'placements'>): number {
  return new Set(placements.map(({ id, bed }) => bed?.id ?? id)).size
}
