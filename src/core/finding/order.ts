import type { Answer, Part } from './answer'
import type { Segment } from './segment'
import type { Sort } from './sorts'

/** A sound with the key that it is put in order by. */
export interface Keyed {
  readonly id: number
  readonly key: number
  readonly usedCount: number
  /** The beginning of the name as two numbers. */
  readonly name: readonly [number, number]
}

/** The first sounds of an answer in an order, with the keys to merge them by: the higher key first. */
export function orderedIds(answer: Answer, sort: Sort, wanted: number): Keyed[] {
  if (sort === 'best') return bestFirst(answer, wanted)
  const { hits, misses, part } = answer
  const { columns, count } = part.segment
  const key = sortKey(sort, part.segment)
  const among = new Uint8Array(count)
  for (let at = 0; at < hits.length; at++) if (misses === null || misses[at] === 0) among[hits[at] as number] = 1
  const ordered: Keyed[] = []
  for (const sound of orderOf(part, sort)) {
    if (among[sound] === 0) continue
    ordered.push({ id: columns.ids[sound] as number, key: key(sound), ...shown(part.segment, sound) })
    if (ordered.length === wanted) break
  }
  return ordered
}

function bestFirst({ hits, keys, misses, part }: Answer, wanted: number): Keyed[] {
  const { tally } = part
  tally.fill(0)
  for (let at = 0; at < hits.length; at++) {
    if (misses !== null && misses[at] !== 0) continue
    const key = keys[at] as number
    tally[key] = (tally[key] as number) + 1
  }
  let least = tally.length - 1
  let gathered = tally[least] as number
  while (gathered < wanted && least > 1) gathered += tally[--least] as number
  const { ids } = part.segment.columns
  const found: Keyed[] = []
  // Of those that share the lowest key only as many are gathered as are wanted: there may be very many.
  let spare = wanted - (gathered - (tally[least] as number))
  for (let at = 0; at < hits.length; at++) {
    const key = keys[at] as number
    if (key < least || (misses !== null && misses[at] !== 0)) continue
    if (key === least && spare-- <= 0) continue
    const sound = hits[at] as number
    found.push({ id: ids[sound] as number, key, ...shown(part.segment, sound) })
  }
  return found.sort(byKey).slice(0, wanted)
}

/** The higher key first; at the same key by name. */
function byKey(a: Keyed, b: Keyed): number {
  return b.key - a.key || a.name[0] - b.name[0] || a.name[1] - b.name[1] || a.id - b.id
}

function shown({ columns }: Segment, sound: number): Pick<Keyed, 'name' | 'usedCount'> {
  return {
    name: [columns.nameStart[sound] as number, columns.nameRest[sound] as number],
    usedCount: columns.usedCount[sound] as number,
  }
}

/** Key by which a sound stands in an order, the higher the earlier; what is not known comes last. */
function sortKey(sort: Sort, { columns }: Segment): (sound: number) => number {
  const known = (value: number): number => (Number.isNaN(value) ? Number.NEGATIVE_INFINITY : value)
  switch (sort) {
    case 'newest':
      return (sound) => columns.addedDay[sound] as number
    case 'most-used':
      return (sound) => columns.usedCount[sound] as number
    case 'popular':
      return (sound) => columns.popularity[sound] as number
    case 'shortest':
      return (sound) => -(columns.durationS[sound] as number)
    case 'longest':
      return (sound) => columns.durationS[sound] as number
    case 'quietest':
      return (sound) => known(-(columns.loudnessLufs[sound] as number))
    case 'loudest':
      return (sound) => known(columns.loudnessLufs[sound] as number)
    default:
      return () => 0
  }
}

function orderOf(part: Part, sort: Sort): Uint32Array {
  const made = part.orders.get(sort)
  if (made) return made
  const { count } = part.segment
  const key = sortKey(sort, part.segment)
  const keys = Float64Array.from({ length: count }, (_, sound) => key(sound))
  const order = Uint32Array.from({ length: count }, (_, sound) => sound)
  const { nameStart, nameRest } = part.segment.columns
  order.sort((a, b) => {
    const difference = (keys[b] as number) - (keys[a] as number)
    if (difference !== 0 && !Number.isNaN(difference)) return difference
    return (
      (nameStart[a] as number) - (nameStart[b] as number) || (nameRest[a] as number) - (nameRest[b] as number) || a - b
    )
  })
  part.orders.set(sort, order)
  return order
}

/** The lists of all segments as one. */
export function merged(lists: readonly Keyed[][], wanted: number): Keyed[] {
  const [only = []] = lists
  if (lists.length < 2) return only
  return lists.flat().sort(byKey).slice(0, wanted)
}
