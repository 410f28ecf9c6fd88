export { ANSWER_KINDS, type AnswerKind, findAnswer, isSamePoint, type PointAnswer } from './answers'
export { type Clearance, type ClearanceInput, clearance, fileLengthS } from './clearance'
export type { LicenceConflict } from './conflicts'
export {
  type CheckFacts,
  type DetectionFacts,
  FACTS_VERSION,
  type PlacedFacts,
  type ReferenceFacts,
  type StageFacts,
  type TrackFacts,
} from './facts'
export type { Finding, Ground, PapersOnFile } from './finding'
export { ABOUT_WHICH, POINT_KINDS, type PointKind } from './point-kinds'
export { alikeEvents, type Point, trackName } from './points'
export type { SoundOnFile } from './sound-on-file'
export { type AcceptedBy, isBarred, STATE_KINDS, stateInWords, stateOf, type VideoState } from './state'
