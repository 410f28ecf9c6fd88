export { PICTURE_EVENT_KINDS, type PictureEvent, type PictureEventKind, pictureEvents } from './events'
export {
  CELLS,
  type FrameMeasures,
  FrameMeter,
  frameIndexAt,
  PICTURE_BYTES,
  PICTURE_HEIGHT,
  PICTURE_WIDTH,
} from './frames'
export { FRAME_TICK_S, isStripFrame, measuredPicture, STRIP_HEIGHT_PX, stripStepS } from './strip'
