import {
  coarsePlaces,
  flaggedBlocks,
  heightsOf,
  type PiecePeak,
  piecePeaks,
  type Ringing,
  ringingOf,
} from './candidates'
import { CellTransform } from './cells'
import { clickCost } from './click'
import { HEARING_RATE_HZ, PART_MIN_S, PIECES_MAX } from './constants'
import { blockCount, Correlator, halved, halvedTimes, type PreparedWindow } from './correlate'
import { heardAround } from './excerpt'
import type { Halvings } from './kernel/block-kernel'
import { type CoarsePass, HALF_MIN, type SearchPlan } from './plan'
import { isLong, type Piece, type PreparedSound } from './prepare'
import { unitNorm } from './products'
import type { Track } from './track'
import { COHERENCE_WEIGHT, type Verification, Verifier } from './verify'

/** A place in a track where a sound is heard, before rival finds are resolved. */
export interface RawDetection extends Verification {
  /** Index into the list of sounds that was searched. */
  readonly soundIndex: number
  /** Frame of the track where frame 0 of the sound falls, at the hearing rate. */
  readonly lag: number
  /** How far the find stands out of chance: the weaker of matched filter and agreement. */
  readonly score: number
  /** Playing speed relative to the file, where it is not 1. Frames of the sound are then `speed` frames of the track apart. */
  readonly speed?: number
  /** Where it is known to be something other than as it is or muffled. */
  readonly treatment?: 'room' | 'speed' | 'speed-pitch-kept'
  /** Heard in the side of the track and not in its middle. */
  readonly inSide?: true
}

/** Pieces of one sound whose implied starts differ by less than this belong together, frames (2 ms). */
const SAME_LAG_FRAMES = 32
/** At most this many places are verified for each sound and minute of track, best first. */
const VERIFY_PER_MINUTE = 8
/**
 * A piece with less of its energy in the lower half or quarter of the band is searched in more of it. A find's height there goes with
 * the root of the share. Measured: 0.4 in the quarter finds no more than 0.3, and 0.2 loses one find of two hundred.
 */
const LOW_SHARES_MIN = [0, 0.4, 0.3] as const
/** Several pieces raise a peak by this at most, so peaks this much under the wanted score are retained. */
const MERGE_ALLOWANCE = 1.2

/** Finds by chance halve for each so much that is asked more. Measured. */
const COST_OF_DOUBLING = 0.5

interface Item {
  readonly soundIndex: number
  readonly piece: Piece
  flags: Uint8Array
  scale: number
  ringing: Ringing
}

/** Pieces that are looked for with one template in the first pass. */
interface Group {
  readonly members: readonly Item[]
  readonly template: Float32Array
  readonly pass: CoarsePass
  readonly ringing: Ringing
  /** Each member in the lower half of the band, and what it must show there, where its places are looked at there; else null. */
  readonly half: { readonly templates: readonly Float32Array[]; readonly heightMin: number } | null
}

/** Searches sounds in windows of tracks. One instance a thread. */
export class Searcher {
  readonly correlator = new Correlator()
  readonly cells = new CellTransform()

  /**
   * Finds every place in some windows where the sounds are heard.
   *
   * @param track All of the track: a sound may reach beyond its window.
   * @param sounds Null entries (silent or too short) are passed over; indices stay those of this list.
   * @returns Detections with at least the plan's lowest score, in no order; overlapping rivals are not yet resolved.
   */
  search(
    track: Track,
    windows: readonly PreparedWindow[],
    sounds: readonly (PreparedSound | null)[],
    plan: SearchPlan,
  ): RawDetection[] {
    const items = sounds.flatMap((sound, soundIndex) =>
      (sound?.pieces ?? [])
        .slice(0, sound && isLong(sound.samples) ? undefined : plan.piecesMax)
        .map((piece): Item => ({ soundIndex, piece, flags: new Uint8Array(0), scale: 1, ringing: [0, 0] })),
    )
    const groups = groupsOf(items, plan)
    return windows.flatMap((window) => {
      this.flagBlocks(window, groups)
      const peaks = sounds.map((): PiecePeak[] => [])
      this.lookClosely(window, items, plan, (item, found) => peaks[item.soundIndex]?.push(...found))
      return sounds.flatMap((sound, soundIndex) =>
        sound
          ? this.verified(track, window, sound, soundIndex, mergedPeaks(peaks[soundIndex] as PiecePeak[]), plan)
          : [],
      )
    })
  }

  /** First pass, in less band and with groups of pieces: marks the blocks in which a piece may be. */
  private flagBlocks(window: PreparedWindow, groups: readonly Group[]): void {
    const blocks = blockCount(window.frames)
    const all = new Uint8Array(blocks).fill(1)
    for (const { members, template, pass, half, ringing } of groups) {
      const summary = this.correlator.summary(window, template, pass.halvings, half ? all : undefined)
      const { z, scale } = heightsOf(summary, pass.halvings, { ringing })
      const flags = half ? new Uint8Array(0) : flaggedBlocks(z, pass.flagMin, blocks)
      const places = half ? coarsePlaces(z, summary, pass.flagMin) : []
      members.forEach((item, at) => {
        item.scale = scale
        item.ringing = ringing
        item.flags = half
          ? this.correlator.answeringBlocks(window, half.templates[at] as Float32Array, places, half.heightMin * scale)
          : flags
      })
    }
  }

  /** Second pass, in the whole band, over the marked blocks only. */
  private lookClosely(
    window: PreparedWindow,
    items: readonly Item[],
    { scoreMin }: SearchPlan,
    take: (item: Item, peaks: PiecePeak[]) => void,
  ): void {
    for (const item of items) {
      if (!item.flags.includes(1)) continue
      const { start, samples } = item.piece
      const summary = this.correlator.summary(window, samples, 0, item.flags)
      const range = { start, end: start + samples.length }
      const limits = { windowStart: window.start, zMin: scoreMin - MERGE_ALLOWANCE }
      take(item, piecePeaks(summary, heightsOf(summary, 0, item), range, limits))
    }
  }

  private verified(
    track: Track,
    window: PreparedWindow,
    sound: PreparedSound,
    soundIndex: number,
    candidates: readonly PiecePeak[],
    { scoreMin }: SearchPlan,
  ): RawDetection[] {
    const strong = candidates.filter(({ z }) => z >= scoreMin)
    if (strong.length === 0) return []
    const cost = clickCost(sound) + trialsCost(sound)
    const agreementMin = (scoreMin + cost) / COHERENCE_WEIGHT
    const whole = isLong(sound.samples) ? null : new Verifier(this.cells, sound, agreementMin)
    const minutes = Math.max(1, window.frames / HEARING_RATE_HZ / 60)
    const found: RawDetection[] = []
    // What proves true elsewhere costs nothing of it: a sound may be used any number of times. One that repeats itself answers at each of its repeats.
    let triesLeft = Math.ceil(VERIFY_PER_MINUTE * minutes)
    for (const candidate of strong) {
      if (triesLeft === 0) break
      if (found.some((other) => Math.abs(other.lag - candidate.lag) < SAME_LAG_FRAMES * 8)) continue
      const hint = { from: candidate.pieceFrom, to: candidate.pieceTo }
      const verification = heardAround(sound, hint, ({ sound: excerpt, start }) =>
        (whole ?? new Verifier(this.cells, excerpt, agreementMin)).verify(track, candidate.lag + start, {
          from: hint.from - start,
          to: hint.to - start,
        }),
      )?.heard
      const score = verification ? combinedScore(candidate, verification) - cost : 0
      if (!verification || score < scoreMin || partTooShort(verification, sound)) {
        triesLeft--
        continue
      }
      // Any click that follows would pass for a click's echo.
      const echoes = cost > 0 ? 1 : verification.echoes
      const find = { soundIndex, lag: candidate.lag, score, ...verification, echoes }
      if (found.some((other) => sharesMost(other, find))) triesLeft--
      found.push(find)
    }
    return found
  }
}

/** What more pieces than others have take off a score: chance has that many more tries. */
function trialsCost({ samples, pieces }: PreparedSound): number {
  return isLong(samples) ? Math.max(0, COST_OF_DOUBLING * Math.log2(pieces.length / PIECES_MAX)) : 0
}

/** Whether most of a find lies over another one. */
function sharesMost(one: RawDetection, other: RawDetection): boolean {
  const shared = Math.min(one.lag + one.to, other.lag + other.to) - Math.max(one.lag + one.from, other.lag + other.from)
  return shared > 0.5 * (other.to - other.from)
}

/** The first pass that each piece is fit for: those with little in the lower band are searched in more of it. */
function groupsOf(items: readonly Item[], { coarse, halfMin }: SearchPlan): Group[] {
  const passes: CoarsePass[] = [coarse]
  for (let halvings = coarse.halvings - 1; halvings >= 0; halvings--)
    passes.push({ halvings: halvings as Halvings, groupSize: 1, flagMin: HALF_MIN })
  const fitFor = (pass: CoarsePass, { piece }: Item): boolean =>
    pass.halvings === 0 || piece.lowShares[pass.halvings === 2 ? 1 : 0] >= LOW_SHARES_MIN[pass.halvings]
  return passes.flatMap((pass, at) => {
    const fit = items.filter((item) => passes.findIndex((each) => fitFor(each, item)) === at)
    return grouped(fit, pass.groupSize).map((members) => {
      const template = halvedTimes(summedTemplate(members), pass.halvings)
      return {
        members,
        template,
        ringing: ringingOf(template, pass.halvings),
        pass,
        half:
          pass.halvings === 2 && halfMin !== null
            ? { templates: members.map(({ piece }) => unitNorm(halved(piece.samples))), heightMin: halfMin }
            : null,
      }
    })
  })
}

/** Neighbours in length go together, and two pieces of one sound do not. */
function grouped(items: readonly Item[], size: number): Item[][] {
  if (size === 1) return items.map((item) => [item])
  const groups: Item[][] = []
  for (const item of [...items].sort((a, b) => a.piece.samples.length - b.piece.samples.length)) {
    const open = groups.slice(-2).find((group) => group.length < size && group[0]?.soundIndex !== item.soundIndex)
    if (open) open.push(item)
    else groups.push([item])
  }
  return groups
}

/** Sum of the members' templates, of unit norm. */
function summedTemplate(group: readonly Item[]): Float32Array {
  const [first] = group as [Item]
  if (group.length === 1) return first.piece.samples
  const sum = new Float32Array(Math.max(...group.map(({ piece }) => piece.samples.length)))
  const gain = 1 / Math.sqrt(group.length)
  group.forEach(({ piece }) => {
    for (let n = 0; n < piece.samples.length; n++) sum[n] = (sum[n] as number) + gain * (piece.samples[n] as number)
  })
  return sum
}

/** A short part must be all of a short sound, or it was fitted too freely. */
function partTooShort({ from, to }: Verification, sound: PreparedSound): boolean {
  const whole = to - from >= 0.9 * sound.samples.length
  return to - from < (whole ? PART_MIN_S * 0.8 : 0.2) * HEARING_RATE_HZ
}

function combinedScore(candidate: PiecePeak, { evidence, coherence }: Verification): number {
  const likelihood = Math.sqrt(2 * Math.max(0, evidence))
  return Math.min(candidate.z, COHERENCE_WEIGHT * coherence, likelihood)
}

/** Peaks of different pieces that agree on the start of the sound raise each other a little. */
function mergedPeaks(peaks: readonly PiecePeak[]): PiecePeak[] {
  const merged: { strongest: PiecePeak; extra: number }[] = []
  for (const peak of [...peaks].sort((a, b) => b.z - a.z)) {
    const near = merged.find((other) => Math.abs(other.strongest.lag - peak.lag) < SAME_LAG_FRAMES)
    if (near) near.extra += peak.z * peak.z
    else merged.push({ strongest: peak, extra: 0 })
  }
  return merged
    .map(({ strongest, extra }) => ({ ...strongest, z: Math.sqrt(strongest.z * strongest.z + extra / 2) }))
    .sort((a, b) => b.z - a.z)
}
