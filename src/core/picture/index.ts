export { PICTURE_EVENT_KINDS, type PictureEvent, type PictureEventKind, pictureEvents } from './events'
export { comesUnevenly, frameTicks, frameTimesS } from './frame-times'
export {
  CELLS,
  type FrameMeasures,
  FrameMeter,
  frameIndexAt,
  PICTURE_BYTES,
  PICTURE_HEIGHT,
  PICTURE_WIDTH,
} from './frames'
export { isStripFrame, measuredPicture, STRIP_HEIGHT_PX, stripStepS } from './strip'
