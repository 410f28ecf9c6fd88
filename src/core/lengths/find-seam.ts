import type { TimeRange } from '../time-range'
import { gainOf, type Seam, type SeamContext, type SeamQuality, seamQuality } from './seam'
import { unlikeDb } from './spectra'

/** Lengths of seams that are tried, s. */
const SEAMS_S = [0.02, 0.05, 0.12, 0.25, 0.5]
/** Places that are kept of each length of jump and seam, and that are looked at closely for a jump, and for a loop. */
const PLACES_EACH = 4
const CLOSE_LOOKS = 16
const CLOSE_LOOKS_FOR_LOOP = 32
/** A jump may be longer by so much for its sides to be in phase, s: a period of 80 Hz. */
export const PHASE_S = 0.0125
/** Phase is sought in so many samples at most. */
const PHASE_WINDOW = 2048

export interface FoundSeam extends Seam, SeamQuality {}

/** What a jump has to keep to. */
export interface SeamBounds {
  /** Within this it lies, with its seam, s of the source. */
  readonly within: TimeRange
  /** How much longer the sound gets by it, s; below 0 it gets shorter. */
  readonly gainS: number
  /** It may get longer by so much more. */
  readonly moreS: number
  /** The part before the jump begins here, led in over `seamS`; the part after it ends at `toS`. */
  readonly part: { readonly fromS: number; readonly seamS: number; readonly toS: number }
}

/** The best place for a jump of a length, or null where none has room. */
export function bestSeam(context: SeamContext, bounds: SeamBounds): FoundSeam | null {
  return bestOf(context, likelySeams(context, bounds), CLOSE_LOOKS, ({ quality }) => quality)
}

/** A jump as it looks from afar. */
interface LikelySeam {
  readonly seam: Seam
  readonly moreS: number
  /** How unlike its sides are, dB. */
  readonly unlikeDb: number
}

/** Looks closely at the most promising. */
function bestOf(
  context: SeamContext,
  likely: readonly LikelySeam[],
  looks: number,
  worth: (seam: FoundSeam) => number,
): FoundSeam | null {
  const promising = [...likely].sort((a, b) => a.unlikeDb - b.unlikeDb).slice(0, looks)
  let best: FoundSeam | null = null
  for (const { seam, moreS } of promising) {
    const found = refined(context, seam, moreS)
    if (found && (!best || worth(found) > worth(best))) best = found
  }
  return best
}

/** The best places for a jump with each length of seam. */
function likelySeams(context: SeamContext, bounds: SeamBounds): LikelySeam[] {
  const { gainS, moreS } = bounds
  return SEAMS_S.flatMap((seamS) =>
    // A loop is longer than its seam.
    gainS > 0 && seamS > gainS
      ? []
      : likelyPlaces(context, bounds, seamS).map(({ fromS, unlikeDb: byDb }) => ({
          seam: { outS: fromS + seamS, inS: fromS - gainS, seamS },
          moreS,
          unlikeDb: byDb,
        })),
  )
}

/** Where a seam may begin in the part before: the places at which before and after are most alike, s. */
function likelyPlaces(
  { spectra }: SeamContext,
  { within, gainS, moreS, part }: SeamBounds,
  seamS: number,
): { readonly fromS: number; readonly unlikeDb: number }[] {
  const { stepS } = spectra
  // Both sides of the seam lie within the bounds, and no two seams of a part meet.
  const first = Math.ceil(
    Math.max(within.startS + Math.max(0, gainS + moreS), part.fromS + 2 * Math.max(part.seamS, seamS)) / stepS,
  )
  const last = Math.floor(
    Math.min(within.endS - seamS + Math.min(0, gainS), part.toS - 2 * seamS + gainS - 0.001) / stepS,
  )
  const lag = Math.round(gainS / stepS)
  const places: { at: number; cost: number }[] = []
  const looks = [0, Math.round(seamS / stepS / 2), Math.round(seamS / stepS)]
  for (let at = first; at <= last; at++) {
    const cost = looks.reduce((sum, by) => {
      const [a, b] = [at + by, at + by - lag]
      const isInside = a >= 0 && b >= 0 && a < spectra.frames && b < spectra.frames
      return sum + (isInside ? unlikeDb(spectra, a, b) : 60)
    }, 0)
    places.push({ at, cost })
  }
  places.sort((a, b) => a.cost - b.cost)
  const chosen: { at: number; cost: number }[] = []
  for (const place of places) {
    if (chosen.length === PLACES_EACH) break
    // Neighbours would be the same place.
    if (chosen.every((other) => Math.abs(other.at - place.at) > 2)) chosen.push(place)
  }
  return chosen.map(({ at, cost }) => ({ fromS: at * stepS, unlikeDb: cost / looks.length }))
}

/** A seam with its sides in phase, so that neither takes from the other. */
function refined(context: SeamContext, seam: Seam, moreS: number): FoundSeam | null {
  const { samples, sampleRateHz } = context
  const out = Math.round((seam.outS - seam.seamS) * sampleRateHz)
  const into = Math.round(seam.inS * sampleRateHz)
  const length = Math.min(PHASE_WINDOW, Math.round(seam.seamS * sampleRateHz))
  let best = 0
  let most = Number.NEGATIVE_INFINITY
  for (let back = 0; back <= moreS * sampleRateHz; back++) {
    const likeness = correlation(samples, { one: out, other: into - back, length })
    if (likeness > most + 1e-6) [most, best] = [likeness, back]
  }
  const placed: Seam = { ...seam, inS: seam.inS - best / sampleRateHz }
  return placed.inS < 0 ? null : { ...placed, ...seamQuality(context, placed) }
}

function correlation(
  samples: Float32Array,
  { one, other, length }: { readonly one: number; readonly other: number; readonly length: number },
): number {
  if (one < 0 || other < 0) return Number.NEGATIVE_INFINITY
  let [both, a, b] = [0, 1e-9, 1e-9]
  for (let n = 0; n < length; n++) {
    const [x, y] = [samples[one + n] ?? 0, samples[other + n] ?? 0]
    both += x * y
    a += x * x
    b += y * y
  }
  return both / Math.sqrt(a * b)
}

/** Jumps of the loop that are tried, of different lengths. */
const LOOPS_TRIED = 40
/** A loop is at least so long, s: what comes round more often is heard. */
const SHORTEST_LOOP_S = 0.3
/** What the longest loop is worth more than the shortest, dB and in quality. */
const LONGER_WORTH_DB = 1
const LONGER_WORTH = 0.15

/**
 * The jump that a sound can best be looped by, of any length, a whole number of bars where it has them. Longer ones are taken where they are as good.
 *
 * @param longestS It is not longer than this.
 */
export function bestLoop(
  context: SeamContext,
  {
    longestS,
    barS,
    ...bounds
  }: Pick<SeamBounds, 'within' | 'part'> & { readonly longestS: number; readonly barS: number | null },
): FoundSeam | null {
  const lengths = barS ? wholeBars(longestS, barS) : steps(longestS)
  const likely = lengths.flatMap((gainS) =>
    likelySeams(context, { ...bounds, gainS, moreS: barS ? 0 : PHASE_S }).map((one) => ({
      ...one,
      // A longer loop may be a little less alike.
      unlikeDb: one.unlikeDb - (LONGER_WORTH_DB * gainS) / longestS,
    })),
  )
  return bestOf(
    context,
    likely,
    CLOSE_LOOKS_FOR_LOOP,
    (seam) => seam.quality + (LONGER_WORTH * gainOf(seam)) / longestS,
  )
}

function wholeBars(longestS: number, barS: number): number[] {
  const most = Math.floor(longestS / barS + 1e-6)
  return Array.from({ length: Math.min(8, most) }, (_, back) => (most - back) * barS)
}

function steps(longestS: number): number[] {
  if (longestS < SHORTEST_LOOP_S) return []
  const shortestS = Math.max(SHORTEST_LOOP_S, longestS / 4)
  return Array.from({ length: LOOPS_TRIED }, (_, at) => longestS - ((longestS - shortestS) * at) / (LOOPS_TRIED - 1))
}
