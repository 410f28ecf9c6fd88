export { addsUp } from './adds-up'
export { beyondHeardInStored } from './beyond-heard'

export { BREAKDOWN_HOP, type SegmentKind } from './breakdown-steps'
export { CellTransform } from './cells'
export { type Certainty, certaintyOf } from './certainty'
export { COMPACT_VERSION, CompactError, compactFrames, compactTrack, expandedTrack } from './compact'
export {
  type FalsePositiveModel,
  falsePositiveModel,
  LOWEST_SCORE,
  PRIOR_FALSE_POSITIVE_RATE,
  scoreThreshold,
  soundMinutesOf,
} from './confidence'
export { HEARING_RATE_HZ, LONG_S, SOUND_MIN_S, WINDOW_FRAMES } from './constants'
export {
  bestKernel,
  type PreparedWindow,
  preparedWindow,
  spectraLength,
  trackWindows,
  whitenedLength,
} from './correlate'
export { decoyIndices, decoyOf } from './decoys'
export { type Detection, finalDetections, type Treatment } from './detections'
export {
  decodedFeatures,
  decodedMarks,
  encodedFeatures,
  FEATURES_VERSION,
  FeaturesError,
  LONG_SOUNDS_SINCE,
} from './features'
export {
  isPieceOf,
  RELATIONS_VERSION,
  type RecordingComparison,
  type RecordingRelations,
  recordingRelations,
} from './groups'
export {
  bestProducts,
  bestProposals,
  decodedTemplates,
  encodedTemplates,
  PATCH_COMPONENTS,
  type PatchProducts,
  type PatchRows,
  type Proposal,
  patchCount,
  proposalsIn,
  soundTemplates,
  type TemplateRows,
  trackPatches,
} from './lookup'
export { type Opposition, opposedBeside, oppositionOf, oppositionWithout } from './opposed'
export { searchPlan } from './plan'
export { type PreparedSound, preparedSound } from './prepare'
export { LookedUpSearcher, TreatedSearcher } from './processed'
export { type RawDetection, Searcher } from './search'
export { type BandLevels, bandLevels, hearableFromDb } from './sensitivity'
export { searchSide, sideWindows } from './side'
export { type SoundKind, soundKind } from './sound-kind'
export { subtracted, takeOutOfSide } from './subtract'
export { compand, compandSide, Track, trackOf } from './track'
export { type Segment, type TrackBreakdown, trackBreakdown } from './track-breakdown'
export type { UnexplainedEvent } from './unexplained-events'
