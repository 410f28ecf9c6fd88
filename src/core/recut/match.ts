import { SKETCH_BANDS, SKETCH_STEP_S, type TrackSketch } from './sketch'

/** A stretch of the old cut, and where it is in the new one. */
export interface CutSection {
  /** In the old cut, s. */
  readonly startS: number
  readonly endS: number
  /** What is added to a time of the old cut, s; null where the new one lacks the stretch. */
  readonly shiftS: number | null
  /** How alike the two are there, 0 to 1; null where both are silent and only what lies around tells. */
  readonly score: number | null
}

/** The old cut is looked for in pieces of this length, that begin so far apart, steps. */
const PIECE = 150
const HOP = 50
/** A piece that moves less than this, root mean square of its values, is silent. */
const SILENT_RMS = 5
/** As alike as this, a piece is taken to go on where the one before it went. */
const GOES_ON = 0.72
/** Places that are weighed for a piece that does not go on. */
const CANDIDATES = 6
/** Every so many steps are looked at first. */
const COARSE = 4
/** What a piece that is not in the new cut scores. */
const GONE_SCORE = 0.45
/** What it costs to go on elsewhere. */
const JUMP_COST = 0.5
/** Around a jump, so many steps on either side may be its place. */
const EDGE_STEPS = PIECE + HOP
/** A single step is alike from here on, when the end of a stretch is looked for. */
const STEP_ALIKE = 0.3
const SMOOTH = 4

interface Candidate {
  readonly shift: number
  readonly score: number
}

/** A sketch with what is needed to compare it fast. */
interface Searchable extends TrackSketch {
  /** Sum of squares before each step. */
  readonly power: Float64Array
  /** Every {@link COARSE} steps added up. */
  readonly coarse: Float32Array
  readonly coarseCount: number
  readonly coarsePower: Float64Array
}

/**
 * Where each part of a cut lies in a newer one, by their sound tracks: cross-correlation of the old one's pieces, and of all places that
 * fit a piece those that lie in line with their neighbours (dynamic programming).
 *
 * @returns Sections that cover the old cut from 0 to its end, in order, those with the same shift joined. One section that is gone when
 * nothing is alike.
 */
export function matchCuts(old: TrackSketch, next: TrackSketch): CutSection[] {
  const [from, to] = [searchable(old), searchable(next)]
  const starts: number[] = []
  for (let at = 0; at + PIECE <= old.count || at === 0; at += HOP) starts.push(at)
  const candidates: (Candidate[] | null)[] = []
  let running: number | null = null
  for (const start of starts) {
    const piece = { start, length: Math.min(PIECE, old.count - start) }
    if (isSilent(from, piece)) {
      candidates.push(null)
      continue
    }
    const goesOn: Candidate | null = running === null ? null : bestNear(from, to, piece, running, 2)
    if (goesOn && goesOn.score >= GOES_ON) {
      running = goesOn.shift
      candidates.push([goesOn])
      continue
    }
    const found: Candidate[] = placesOf(from, to, piece)
    candidates.push(goesOn && !found.some(({ shift }) => shift === goesOn.shift) ? [...found, goesOn] : found)
    const best: Candidate | undefined = found[0]
    if (best && best.score >= GOES_ON) running = best.shift
  }
  const runs = runsOf(starts, pathWithoutDoubles(starts, candidates))
  const sections = sectionsOf(from, to, runs)
  const short = shortRuns(from, to, sections)
  if (short.length === 0) return sections
  const all = [...runs, ...short].sort((a, b) => a.firstStart - b.firstStart)
  return sectionsOf(from, to, all)
}

/** Stretches of both cuts that nothing stands for are compared with each other when they are not longer than this, steps. */
const GAP_MAX = 3000
/** Edges of such a stretch may be wrong by so much, steps. */
const GAP_SLACK = 60
/** A stretch that is found in one is at least so long, steps, and so alike. */
const SHORT_MIN = 40
const SHORT_ALIKE = 0.6
/** Shorter than a piece, it has to be as alike as this: among many places chance finds some that are half alike. */
const SHORT_SURE = 0.85

/** Stretches that are too short to fill a piece: of what is gone and of what is new, those that are alike. */
function shortRuns(from: Searchable, to: Searchable, sections: readonly CutSection[]): Run[] {
  const claimed = sections
    .filter(({ shiftS }) => shiftS !== null)
    .map(({ startS, endS, shiftS }) => [startS + (shiftS as number), endS + (shiftS as number)] as const)
    .sort((a, b) => a[0] - b[0])
  const free: (readonly [number, number])[] = []
  let at = 0
  for (const [startS, endS] of [...claimed, [to.count * SKETCH_STEP_S, 0] as const]) {
    const start = Math.round(startS / SKETCH_STEP_S)
    if (start - at >= SHORT_MIN) free.push([at, start])
    at = Math.max(at, Math.round(endS / SKETCH_STEP_S))
  }
  const found: Run[] = []
  for (const [index, { startS, endS, shiftS }] of sections.entries()) {
    if (shiftS !== null) continue
    // What lies beside it and goes on there is no find.
    const beside = [sections[index - 1], sections[index + 1]].map(
      (one) => (one?.shiftS ?? Number.POSITIVE_INFINITY) / SKETCH_STEP_S,
    )
    const gone = [Math.round(startS / SKETCH_STEP_S), Math.round(endS / SKETCH_STEP_S)] as const
    const runs = free.flatMap((range) => alikeWithin(from, to, gone, range) ?? [])
    const others = runs.filter((run) => beside.every((shift) => Math.abs(shift - (run.shift as number)) > 3))
    const best = others.sort((a, b) => (b.scores[0] as number) - (a.scores[0] as number))[0]
    if (best) found.push(best)
  }
  return found
}

/** The longest stretch of one range that is in the other, or null. */
function alikeWithin(
  from: Searchable,
  to: Searchable,
  [oldStart, oldEnd]: readonly [number, number],
  [newStart, newEnd]: readonly [number, number],
): Run | null {
  if (oldEnd - oldStart > GAP_MAX || newEnd - newStart > GAP_MAX || oldEnd - oldStart < SHORT_MIN) return null
  let best: { shift: number; start: number; end: number; sum: number } | null = null
  for (let shift = newStart - oldEnd; shift <= newEnd - oldStart; shift++) {
    const low = Math.max(0, 0 - shift, Math.max(oldStart, newStart - shift) - GAP_SLACK)
    const high = Math.min(from.count, to.count - shift, Math.min(oldEnd, newEnd - shift) + GAP_SLACK)
    if (high - low < SHORT_MIN) continue
    // The part of the overlap whose likeness over the least that is asked adds up to most.
    let sum = 0
    let start = low
    for (let step = low; step < high; step += 2) {
      if (sum <= 0) [sum, start] = [0, step]
      sum += 2 * (stepScore(from, to, step, shift) - SHORT_ALIKE)
      if (sum > (best?.sum ?? 0) && step - start >= SHORT_MIN) best = { shift, start, end: step, sum }
    }
  }
  if (!best) return null
  const { shift, start, end, sum } = best
  const score = SHORT_ALIKE + sum / (end - start)
  if (score < SHORT_SURE && end - start < PIECE) return null
  return { shift, firstStart: start, lastStart: Math.max(start, end - PIECE), scores: [score] }
}

/** Two stretches that lie over each other in the new cut by more than this are not both there, steps: the last pieces of each reach over its end. */
const DOUBLE_STEPS = PIECE + HOP
/** So often a place is taken from the less alike of two stretches. */
const ROUNDS = 8

/** A path in which no part of the new cut stands for two parts of the old one: music that repeats fits in several places. */
function pathWithoutDoubles(
  starts: readonly number[],
  candidates: readonly (readonly Candidate[] | null)[],
): (Candidate | null | undefined)[] {
  let left = candidates
  for (let round = 0; ; round++) {
    const path = bestPath(left)
    const loser = round < ROUNDS ? doubledRun(runsOf(starts, path)) : null
    if (!loser) return path
    const { shift, firstStart, lastStart } = loser
    left = left.map((options, index) => {
      const start = starts[index] as number
      if (!options || start < firstStart || start > lastStart) return options
      return options.filter((one) => Math.abs(one.shift - (shift as number)) > 2)
    })
  }
}

/** Of two runs that claim the same part of the new cut, the one that is less alike to it; null where none do. */
function doubledRun(runs: readonly Run[]): Run | null {
  const placed = runs.filter(({ shift }) => shift !== null)
  const mean = ({ scores }: Run): number => scores.reduce((sum, one) => sum + one, 0) / Math.max(1, scores.length)
  for (const [index, a] of placed.entries())
    for (const b of placed.slice(index + 1)) {
      const from = Math.max(a.firstStart + (a.shift as number), b.firstStart + (b.shift as number))
      const to = Math.min(a.lastStart + (a.shift as number), b.lastStart + (b.shift as number)) + PIECE
      if (to - from > DOUBLE_STEPS) return mean(a) < mean(b) ? a : b
    }
  return null
}

function searchable(sketch: TrackSketch): Searchable {
  const { values, count } = sketch
  const power = new Float64Array(count + 1)
  for (let step = 0; step < count; step++) {
    let sum = 0
    for (let i = step * SKETCH_BANDS; i < (step + 1) * SKETCH_BANDS; i++) sum += (values[i] as number) ** 2
    power[step + 1] = (power[step] as number) + sum
  }
  const coarseCount = Math.floor(count / COARSE)
  const coarse = new Float32Array(coarseCount * SKETCH_BANDS)
  const coarsePower = new Float64Array(coarseCount + 1)
  for (let step = 0; step < coarseCount; step++) {
    let sum = 0
    for (let band = 0; band < SKETCH_BANDS; band++) {
      let value = 0
      for (let k = 0; k < COARSE; k++) value += values[(step * COARSE + k) * SKETCH_BANDS + band] as number
      coarse[step * SKETCH_BANDS + band] = value
      sum += value ** 2
    }
    coarsePower[step + 1] = (coarsePower[step] as number) + sum
  }
  return { ...sketch, power, coarse, coarseCount, coarsePower }
}

interface Piece {
  readonly start: number
  readonly length: number
}

function isSilent({ power }: Searchable, { start, length }: Piece): boolean {
  const sum = (power[start + length] as number) - (power[start] as number)
  return Math.sqrt(sum / (Math.max(1, length) * SKETCH_BANDS)) < SILENT_RMS
}

/** Normalised cross-correlation of a piece with the new cut at a shift, -1 to 1; what lies outside of the new cut counts as nothing. */
function scoreAt(from: Searchable, to: Searchable, { start, length }: Piece, shift: number): number {
  const low = Math.max(start, 0 - shift)
  const high = Math.min(start + length, to.count - shift)
  if (high - low < length / 2) return 0
  let sum = 0
  for (let i = low * SKETCH_BANDS, j = (low + shift) * SKETCH_BANDS; i < high * SKETCH_BANDS; i++, j++)
    sum += (from.values[i] as number) * (to.values[j] as number)
  const energy = (from.power[start + length] as number) - (from.power[start] as number)
  const other = (to.power[high + shift] as number) - (to.power[low + shift] as number)
  return energy > 0 && other > 0 ? sum / Math.sqrt(energy * other) : 0
}

function bestNear(from: Searchable, to: Searchable, piece: Piece, around: number, reach: number): Candidate {
  let best: Candidate = { shift: around, score: scoreAt(from, to, piece, around) }
  for (let shift = around - reach; shift <= around + reach; shift++) {
    const score = scoreAt(from, to, piece, shift)
    if (score > best.score) best = { shift, score }
  }
  return best
}

/** The places of the new cut that are most like a piece, the best first. */
function placesOf(from: Searchable, to: Searchable, piece: Piece): Candidate[] {
  const first = Math.ceil(piece.start / COARSE)
  const length = Math.floor((piece.start + piece.length) / COARSE) - first
  const energy = (from.coarsePower[first + length] as number) - (from.coarsePower[first] as number)
  const rough: Candidate[] = []
  for (let at = 0; at + length <= to.coarseCount; at++) {
    const other = (to.coarsePower[at + length] as number) - (to.coarsePower[at] as number)
    if (other <= 0) continue
    let sum = 0
    for (let i = first * SKETCH_BANDS, j = at * SKETCH_BANDS, n = length * SKETCH_BANDS; n > 0; n--)
      sum += (from.coarse[i++] as number) * (to.coarse[j++] as number)
    const score = sum / Math.sqrt(energy * other)
    const last = rough[rough.length - 1]
    // Of places beside each other the best stands for all.
    if (last && at - (last.shift + first) <= 2) {
      if (score > last.score) rough[rough.length - 1] = { shift: at - first, score }
    } else if (score > 0.25) rough.push({ shift: at - first, score })
  }
  return rough
    .sort((a, b) => b.score - a.score)
    .slice(0, CANDIDATES)
    .map(({ shift }) => bestNear(from, to, piece, shift * COARSE, COARSE + 1))
    .sort((a, b) => b.score - a.score)
}

/** For each piece its place, null for none; undefined for a silent one. The path with the best sum of likeness, less its jumps. */
function bestPath(candidates: readonly (readonly Candidate[] | null)[]): (Candidate | null | undefined)[] {
  interface State {
    readonly place: Candidate | null
    readonly sum: number
    readonly from: number
  }
  const rows: { readonly piece: number; readonly states: State[] }[] = []
  for (const [piece, options] of candidates.entries()) {
    if (!options) continue
    const before = rows[rows.length - 1]?.states
    const states = [...options, null].map((place): State => {
      const own = place ? place.score : GONE_SCORE
      if (!before) return { place, sum: own, from: -1 }
      let best = -1
      let sum = Number.NEGATIVE_INFINITY
      for (const [index, state] of before.entries()) {
        const value = state.sum - jumpCost(state.place, place)
        if (value > sum) [best, sum] = [index, value]
      }
      return { place, sum: sum + own, from: best }
    })
    rows.push({ piece, states })
  }
  const path: (Candidate | null | undefined)[] = candidates.map(() => undefined)
  const lastStates = rows[rows.length - 1]?.states ?? []
  let at = lastStates.reduce((best, state, index) => (state.sum > (lastStates[best]?.sum ?? 0) ? index : best), 0)
  for (let row = rows.length - 1; row >= 0; row--) {
    const { piece, states } = rows[row] as (typeof rows)[number]
    const state = states[at] as State
    path[piece] = state.place
    at = state.from
  }
  return path
}

function jumpCost(a: Candidate | null, b: Candidate | null): number {
  if (a === null || b === null) return a === b ? 0 : JUMP_COST / 2
  return Math.abs(a.shift - b.shift) <= 2 ? 0 : JUMP_COST
}

interface Run {
  readonly shift: number | null
  readonly firstStart: number
  readonly lastStart: number
  readonly scores: readonly number[]
}

/** Pieces that go the same way joined. Silent ones tell nothing. */
function runsOf(starts: readonly number[], path: readonly (Candidate | null | undefined)[]): Run[] {
  const runs: Run[] = []
  for (const [index, place] of path.entries()) {
    if (place === undefined) continue
    const start = starts[index] as number
    const last = runs[runs.length - 1]
    const shift = place?.shift ?? null
    const same =
      last && (shift === null ? last.shift === null : last.shift !== null && Math.abs(last.shift - shift) <= 2)
    const scores = place ? [place.score] : []
    if (last && same) runs[runs.length - 1] = { ...last, lastStart: start, scores: [...last.scores, ...scores] }
    else runs.push({ shift, firstStart: start, lastStart: start, scores })
  }
  return runs
}

function sectionsOf(from: Searchable, to: Searchable, runs: readonly Run[]): CutSection[] {
  // All of it is silent: nothing tells that anything moved.
  if (runs.length === 0) return [{ startS: 0, endS: lengthS(from), shiftS: 0, score: null }]
  const exact = runs.map((run): PlacedRun => ({ ...run, at: run.shift === null ? null : exactShift(from, to, run) }))
  const sections: { start: number; run: PlacedRun | null }[] = []
  for (const [index, run] of exact.entries()) {
    const before = exact[index - 1]
    if (!before) sections.push({ start: 0, run })
    else if (run.shift !== null)
      sections.push(...changeBetween(from, to, { sections, before, run, twoBefore: exact[index - 2] }))
    else sections.push({ start: edgeBetween(from, to, before, run), run })
  }
  return sections.flatMap(({ start, run }, index) => {
    const end = sections[index + 1]?.start ?? from.count
    if (end <= start && sections.length > 1) return []
    const scores = run?.scores ?? []
    const score = scores.length === 0 ? null : scores.reduce((sum, one) => sum + one, 0) / scores.length
    const at = run?.at ?? null
    return {
      startS: start * SKETCH_STEP_S,
      endS: end * SKETCH_STEP_S,
      shiftS: at === null ? null : at * SKETCH_STEP_S,
      score,
    }
  })
}

interface PlacedRun extends Run {
  /** Shift between steps; null where it is gone. */
  readonly at: number | null
}

/** A way in which one run goes over into the next. */
interface Change {
  /** The old cut's step up to which the first holds, and from which on the second does. */
  readonly leave: number
  readonly enter: number
  /** How alike the old cut is to the new one before and behind it, the lower of both. */
  readonly alike: number
}

/** Both sides of a change are looked at over so many steps. */
const SIDE_STEPS = 40
/** From here on a change is taken as it is thought to be. */
const CHANGE_ALIKE = 0.5
/** The start or end of the new cut is taken for an edge within so many steps. */
const END_STEPS = 60

/**
 * What comes where a run that is there begins: after another one, or after a stretch that is gone. A stretch that is shorter than a piece is
 * seen by what the two runs leave of the old cut.
 */
function changeBetween(
  from: Searchable,
  to: Searchable,
  context: {
    readonly sections: { start: number; run: PlacedRun | null }[]
    readonly before: PlacedRun
    readonly run: PlacedRun
    readonly twoBefore: PlacedRun | undefined
  },
): { start: number; run: PlacedRun | null }[] {
  const { sections, before, run, twoBefore } = context
  const other = before.shift === null ? twoBefore : before
  if (!other || other.shift === null) {
    const edge = edgeBetween(from, to, before, run)
    const atStart = 0 - (run.shift as number)
    return [{ start: Math.abs(edge - atStart) <= END_STEPS && atStart >= 0 ? atStart : edge, run }]
  }
  const low = Math.max(0, Math.min(other.lastStart, run.firstStart) - EDGE_STEPS)
  const high = Math.min(from.count, Math.max(run.firstStart, other.lastStart) + PIECE + EDGE_STEPS)
  const ways = [jumpAt(from, to, other, run, { low, high }), takenOutAt(from, to, other, run, { low, high })]
  const best = ways.reduce((a, b) => ((b?.alike ?? 0) > (a?.alike ?? 0) ? b : a))
  if (!best || (before.shift === null && best.alike < CHANGE_ALIKE))
    return [{ start: edgeBetween(from, to, before, run), run }]
  // What was thought to be gone begins where the first run ends, or is not there at all.
  if (before.shift === null) sections.pop()
  const gone = { shift: null, at: null, firstStart: best.leave, lastStart: best.enter, scores: [] }
  return best.enter > best.leave
    ? [
        { start: best.leave, run: gone },
        { start: best.enter, run },
      ]
    : [{ start: best.enter, run }]
}

/** Nothing of the old cut is gone between the runs: the step at which the second takes over. */
function jumpAt(
  from: Searchable,
  to: Searchable,
  a: Run,
  b: Run,
  { low, high }: { low: number; high: number },
): Change | null {
  return bestChange(from, to, a, b, { low, high, skip: 0 })
}

/** The new cut goes on at once where a stretch of the old one was taken out, as long as the runs are apart. */
function takenOutAt(
  from: Searchable,
  to: Searchable,
  a: Run,
  b: Run,
  range: { low: number; high: number },
): Change | null {
  const skip = (a.shift as number) - (b.shift as number)
  return skip > 0 ? bestChange(from, to, a, b, { ...range, high: range.high - skip, skip }) : null
}

function bestChange(
  from: Searchable,
  to: Searchable,
  a: Run,
  b: Run,
  { low, high, skip }: { low: number; high: number; skip: number },
): Change | null {
  const count = high - low
  if (count <= 0) return null
  const first = new Float64Array(count + 1)
  const second = new Float64Array(count + 1)
  for (let i = 0; i < count; i++) {
    first[i + 1] = (first[i] as number) + stepScore(from, to, low + i, a.shift as number)
    second[i + 1] = (second[i] as number) + stepScore(from, to, low + i + skip, b.shift as number)
  }
  let best = 0
  let most = Number.NEGATIVE_INFINITY
  for (let i = 0; i <= count; i++) {
    const sum = (first[i] as number) + (second[count] as number) - (second[i] as number)
    if (sum > most) [most, best] = [sum, i]
  }
  const mean = (sums: Float64Array, start: number, end: number): number =>
    end > start ? ((sums[end] as number) - (sums[start] as number)) / (end - start) : 1
  const alike = Math.min(
    mean(first, Math.max(0, best - SIDE_STEPS), best),
    mean(second, best, Math.min(count, best + SIDE_STEPS)),
  )
  return { leave: low + best, enter: low + best + skip, alike }
}

function lengthS({ count }: Searchable): number {
  return count * SKETCH_STEP_S
}

/** Shift of a whole run, by a parabola through the likeness at it and beside it, steps. */
function exactShift(from: Searchable, to: Searchable, { shift, firstStart, lastStart }: Run): number {
  const middle = shift as number
  const piece = { start: firstStart, length: Math.min(from.count, lastStart + PIECE) - firstStart }
  // The ends of a run reach over its edges; its inside tells.
  const inside = piece.length > 3 * PIECE ? { start: piece.start + PIECE, length: piece.length - 2 * PIECE } : piece
  const best = bestNear(from, to, inside, middle, 2)
  const [a, b, c] = [-1, 0, 1].map((d) => scoreAt(from, to, inside, best.shift + d)) as [number, number, number]
  const bend = a - 2 * b + c
  return best.shift + (bend < 0 ? Math.max(-0.5, Math.min(0.5, (a - c) / (2 * bend))) : 0)
}

/** The step of the old cut from which on the second run holds: where the likeness to both, step by step, adds up to most. */
function edgeBetween(from: Searchable, to: Searchable, a: Run, b: Run): number {
  const low = Math.max(0, Math.min(b.firstStart, a.lastStart + PIECE) - EDGE_STEPS)
  const high = Math.min(from.count, Math.max(b.firstStart, a.lastStart + PIECE) + EDGE_STEPS)
  let sum = 0
  const alike = (run: Run, step: number): number =>
    run.shift === null ? STEP_ALIKE : stepScore(from, to, step, run.shift)
  for (let step = low; step < high; step++) sum += alike(b, step)
  let best = low
  let most = sum
  for (let step = low; step < high; step++) {
    sum += alike(a, step) - alike(b, step)
    if (sum > most) [most, best] = [sum, step + 1]
  }
  return best
}

/** How alike some steps around one are at a shift, -1 to 1; 0 where either is silent or outside. */
function stepScore(from: Searchable, to: Searchable, step: number, shift: number): number {
  const low = Math.max(0, step - SMOOTH, 0 - shift)
  const high = Math.min(from.count, step + SMOOTH + 1, to.count - shift)
  if (high <= low) return -1
  let sum = 0
  let own = 0
  let other = 0
  for (let i = low * SKETCH_BANDS, j = (low + shift) * SKETCH_BANDS; i < high * SKETCH_BANDS; i++, j++) {
    const x = from.values[i] as number
    const y = to.values[j] as number
    sum += x * y
    own += x * x
    other += y * y
  }
  return own > 0 && other > 0 ? sum / Math.sqrt(own * other) : 0
}
