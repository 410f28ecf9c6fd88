import type { Part } from './answer'
import type { Condition } from './conditions'

/** Sounds that meet the same part of what was asked, and not the rest. */
export interface HalfMet {
  /** Which parts of the query they meet. */
  readonly met: readonly number[]
  readonly total: number
  /** The best of them. */
  readonly ids: readonly number[]
}

/** With fewer results than this, what is near to what was asked comes after them. */
export const FEW_RESULTS = 8
/** Groups that are told of, and sounds of each. */
const GROUPS_MAX = 3
const SOUNDS_EACH = 6

interface Ranked {
  readonly id: number
  readonly points: number
}

interface Group {
  total: number
  /** The best first. */
  best: Ranked[]
}

/** What is looked through of one segment. */
export interface HalfMetPart {
  readonly part: Part
  /** Points of every sound for each part of the query. */
  readonly lists: readonly Uint8Array[]
  /** 1 for sounds that are not there, or must not be. */
  readonly excluded: Uint8Array
  readonly conditions: readonly Condition[]
}

/**
 * Sounds that answer to as many parts of a query as any does, but not to all, in groups by which parts those are.
 *
 * The group with the fewest sounds comes first: what is rare says more about what was meant. Nothing where the query has a single part.
 */
export function halfMet(parts: readonly HalfMetPart[]): HalfMet[] {
  const groups = new Map<number, Group>()
  let mostMet = 1
  for (const { part, lists, excluded, conditions } of parts) {
    const { ids } = part.segment.columns
    for (let sound = 0; sound < part.segment.count; sound++) {
      let mask = 0
      let met = 0
      let points = 0
      for (let at = 0; at < lists.length; at++) {
        const own = (lists[at] as Uint8Array)[sound] as number
        if (own === 0) continue
        mask |= 1 << at
        met++
        points += own
      }
      if (met < mostMet || met === lists.length || excluded[sound] === 1) continue
      if (!conditions.every((condition) => condition(sound))) continue
      if (met > mostMet) {
        mostMet = met
        groups.clear()
      }
      const group = groups.get(mask) ?? { total: 0, best: [] }
      groups.set(mask, group)
      group.total++
      putIn(group.best, {
        id: ids[sound] as number,
        points: points * 0x100 + (part.segment.columns.bonus[sound] as number),
      })
    }
  }
  return [...groups]
    .sort(([maskA, a], [maskB, b]) => a.total - b.total || maskA - maskB)
    .slice(0, GROUPS_MAX)
    .map(([mask, { total, best }]) => ({ met: bitsOf(mask), total, ids: best.map(({ id }) => id) }))
}

/** Keeps a short list of the best; at the same points the lower id. */
function putIn(best: Ranked[], one: Ranked): void {
  const last = best.at(-1)
  if (best.length === SOUNDS_EACH && last && !isBefore(one, last)) return
  const at = best.findIndex((other) => isBefore(one, other))
  best.splice(at < 0 ? best.length : at, 0, one)
  if (best.length > SOUNDS_EACH) best.pop()
}

function isBefore(a: Ranked, b: Ranked): boolean {
  return a.points > b.points || (a.points === b.points && a.id < b.id)
}

function bitsOf(mask: number): number[] {
  const bits: number[] = []
  for (let at = 0; mask >> at !== 0; at++) if (((mask >> at) & 1) === 1) bits.push(at)
  return bits
}
