import type { Filter } from '../finding'
import type { PlaceForSound } from './fit'
import type { Moment } from './moment'

/** Longer than this, the length of a place says little about the sound. */
const LENGTH_MATTERS_S = 15

/** Conditions that a sound for a moment should meet: allowed in the video, of its kind, not longer than its place. */
export function filtersForMoment({ kind }: Pick<Moment, 'kind'>, place: PlaceForSound): Filter[] {
  const isBed = kind === 'ambience' || kind === 'music'
  const filters: Filter[] = [
    { kind: 'fit', fits: ['fits', 'fits-with-credit'] },
    { kind: 'type', types: [isBed ? kind : 'effect'] },
  ]
  const longestS = place.spanS ?? (kind === 'swell' ? place.leadS : place.roomS)
  // What lies below a scene is looped or cut to its length.
  if (!isBed && longestS !== null && longestS >= 0.5 && longestS <= LENGTH_MATTERS_S)
    filters.push({ kind: 'length', fromS: null, toS: Math.ceil(longestS * 2) / 2 })
  return filters
}
