import type { ChangeById } from '../changed-by-id'
import type { Placement, PlacementValues } from './score'

/** What all stems of a bed have in common: they sound together or not at all. */
const OF_STEMS = [
  'layerId',
  'fromS',
  'toS',
  'assembly',
  'startS',
  'hitS',
  'hitRepeat',
  'target',
  'rate',
  'keepsPitch',
  'isReversed',
] as const

/**
 * Changes of placements, with what they mean for the rest of their beds: stems keep one time, parts move together. What is changed of the others by name
 * stays as it is named.
 */
export function withTheirBeds(
  placements: readonly Placement[],
  changes: readonly ChangeById<PlacementValues>[],
): ChangeById<PlacementValues>[] {
  const byId = new Map(placements.map((one) => [one.id, one]))
  const named = new Map<string, Set<string>>()
  for (const { id, to } of changes) named.set(id, new Set([...(named.get(id) ?? []), ...Object.keys(to)]))
  return changes.flatMap((change) => {
    const own = byId.get(change.id)
    const { bed } = own ?? {}
    if (!own || !bed) return [change]
    const others = placements.filter((one) => one.bed?.id === bed.id && one.id !== own.id)
    return [
      change,
      ...others.flatMap((other) => {
        const to = bed.kind === 'stems' ? ofStems(change.to) : ofParts(own, other, change.to)
        const left = Object.fromEntries(Object.entries(to).filter(([key]) => !named.get(other.id)?.has(key)))
        return Object.keys(left).length > 0 ? [{ id: other.id, to: left as Partial<PlacementValues> }] : []
      }),
    ]
  })
}

function ofStems(to: Partial<PlacementValues>): Partial<PlacementValues> {
  return Object.fromEntries(OF_STEMS.filter((key) => key in to).map((key) => [key, to[key]]))
}

function ofParts(
  own: Placement,
  other: Placement,
  { layerId, startS }: Partial<PlacementValues>,
): Partial<PlacementValues> {
  return {
    ...(layerId === undefined ? {} : { layerId }),
    ...(startS === undefined ? {} : { startS: Math.max(0, other.startS + startS - own.startS) }),
  }
}
