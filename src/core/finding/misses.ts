import { type Answer, type Part, SEVERAL } from './answer'
import type { Condition } from './conditions'
import type { Filter, FilterKind } from './filters'
import { markExcluded } from './points'
import type { QueryPart } from './query'

/** 1 for sounds that are gone, or that have what must not be there. */
export function excludedBy({ segment, index, dead }: Part, parts: readonly QueryPart[]): Uint8Array {
  const excluded = dead.slice()
  for (const one of parts) if (one.not) markExcluded(segment, index, one, excluded)
  return excluded
}

/** Which hits miss which conditions. */
export function missesOf(hits: Uint32Array, conditions: readonly Condition[]): Pick<Answer, 'misses' | 'hidden'> {
  if (conditions.length === 0) return { misses: null, hidden: [] }
  const misses = new Uint8Array(hits.length)
  const hidden = conditions.map((condition, at) => {
    let count = 0
    for (let hit = 0; hit < hits.length; hit++) {
      if (condition(hits[hit] as number)) continue
      misses[hit] = misses[hit] === 0 ? at + 1 : SEVERAL
      count++
    }
    return count
  })
  return { misses, hidden }
}

/** How many sounds that answer to the words each condition hides, and how many it alone hides. */
export function hiddenBy(
  answers: readonly Answer[],
  filters: readonly Filter[],
): { readonly kind: FilterKind; readonly hidden: number; readonly hiddenByItAlone: number }[] {
  return filters.map(({ kind }, at) => ({
    kind,
    hidden: answers.reduce((sum, { hidden }) => sum + (hidden[at] ?? 0), 0),
    hiddenByItAlone: answers.reduce((sum, { misses }) => sum + countOf(misses, at + 1), 0),
  }))
}

function countOf(misses: Uint8Array | null, value: number): number {
  let count = 0
  for (const missed of misses ?? []) if (missed === value) count++
  return count
}
