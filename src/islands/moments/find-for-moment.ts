import { filtersForMoment, type Moment, type PlaceForSound } from '../../core/moments'
import { addressOf, NOTHING_ASKED } from '../state/find-state'

/** The address of Find with the words of a moment, its kind, the length of its place and the uses of the video set. */
export function findAddress(videoId: number, moment: Moment, place: PlaceForSound): string {
  return addressOf({
    ...NOTHING_ASKED,
    text: moment.words,
    filters: filtersForMoment(moment, place),
    forMoment: { videoId, momentId: moment.id },
  })
}
