import type { Filter } from '../../core/finding'
import type { Moment, PlaceForSound } from '../../core/moments'
import { addressOf, NOTHING_ASKED } from '../state/find-state'

/** Longer than this, the length of a place says little about the sound. */
const LENGTH_MATTERS_S = 15

/** The address of Find with the words of a moment, its kind, the length of its place and the uses of the video set. */
export function findAddress(videoId: number, moment: Moment, place: PlaceForSound): string {
  const filters: Filter[] = [{ kind: 'fit', fits: ['fits', 'fits-with-credit'] }]
  const { kind } = moment
  if (kind === 'ambience' || kind === 'music') filters.push({ kind: 'type', types: [kind] })
  else filters.push({ kind: 'type', types: ['effect'] })
  const longestS = place.spanS ?? (kind === 'swell' ? place.leadS : place.roomS)
  // What lies below a scene is looped or cut to its length.
  if (kind !== 'ambience' && kind !== 'music' && longestS !== null && longestS >= 0.5 && longestS <= LENGTH_MATTERS_S)
    filters.push({ kind: 'length', fromS: null, toS: Math.ceil(longestS * 2) / 2 })
  return addressOf({ ...NOTHING_ASKED, text: moment.words, filters, forMoment: { videoId, momentId: moment.id } })
}
