import type { Answer, Part } from './answer'
import type { Segment } from './segment'

export const SORTS = [
  'best',
  'newest',
  'most-used',
  'popular',
  'shortest',
  'longest',
  'name',
  'quietest',
  'loudest',
] as const
export type Sort = (typeof SORTS)[number]

/** A sound with the key that it is put in order by. */
export interface Keyed {
  readonly id: number
  readonly key: number
}

/** The first sounds of an answer in an order, with the keys to merge them by: the higher key first. */
export function orderedIds(answer: Answer, sort: Sort, wanted: number): Keyed[] {
  const { columns } = answer.part.segment
  if (sort === 'best') return bestFirst(answer, wanted)
  const key = sortKey(sort, answer.part.segment)
  const ordered: Keyed[] = []
  for (const sound of orderOf(answer.part, sort)) {
    if (answer.keys[sound] === 0 || (answer.misses && answer.misses[sound] !== 0)) continue
    ordered.push({ id: columns.ids[sound] as number, key: key(sound) })
    if (ordered.length === wanted) break
  }
  return ordered
}

function bestFirst({ keys, misses, part }: Answer, wanted: number): Keyed[] {
  const tally = new Uint32Array(0x10000)
  for (let sound = 0; sound < keys.length; sound++) {
    if (misses === null || misses[sound] === 0)
      tally[keys[sound] as number] = (tally[keys[sound] as number] as number) + 1
  }
  let least = 0xffff
  let gathered = tally[least] as number
  while (gathered < wanted && least > 1) gathered += tally[--least] as number
  const { ids } = part.segment.columns
  const found: Keyed[] = []
  // Of those that share the lowest key only as many are gathered as are wanted: there may be very many.
  let spare = wanted - (gathered - (tally[least] as number))
  for (let sound = 0; sound < keys.length; sound++) {
    const key = keys[sound] as number
    if (key < least || key === 0 || (misses !== null && misses[sound] !== 0)) continue
    if (key === least && spare-- <= 0) continue
    found.push({ id: ids[sound] as number, key })
  }
  return found.sort((a, b) => b.key - a.key || a.id - b.id).slice(0, wanted)
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
      return (sound) => -(columns.nameKey[sound] as number)
  }
}

function orderOf(part: Part, sort: Sort): Uint32Array {
  const made = part.orders.get(sort)
  if (made) return made
  const { count } = part.segment
  const key = sortKey(sort, part.segment)
  const keys = Float64Array.from({ length: count }, (_, sound) => key(sound))
  const order = Uint32Array.from({ length: count }, (_, sound) => sound)
  const { nameKey } = part.segment.columns
  order.sort((a, b) => {
    const difference = (keys[b] as number) - (keys[a] as number)
    if (difference !== 0 && !Number.isNaN(difference)) return difference
    return (nameKey[a] as number) - (nameKey[b] as number) || a - b
  })
  part.orders.set(sort, order)
  return order
}

/** The lists of all segments as one. */
export function merged(lists: readonly Keyed[][], wanted: number): Keyed[] {
  const [only = []] = lists
  if (lists.length < 2) return only
  return lists
    .flat()
    .sort((a, b) => b.key - a.key || a.id - b.id)
    .slice(0, wanted)
}
