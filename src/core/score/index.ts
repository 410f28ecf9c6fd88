export {
  addedWithLayers,
  changedSafely,
  layerFor,
  layerName,
  linedUp,
  moved,
  placedAnywhere,
  placedForMoment,
  replaced,
  roleOfKind,
  type SourceFacts,
  withPieces,
  withSafeEnds,
} from './arrange'
export {
  asOneSound,
  type BedParts,
  type BedSource,
  countThings,
  duplicatedBed,
  fullerFrom,
  inParts,
  inStems,
  loopsFor,
  oneThing,
  splitBed,
  thinnerUnder,
  trimmedBed,
  wholeBeds,
} from './bed'
export { type LineBounds, withBreakPoint, withMovedBreakPoint, withoutBreakPoint } from './break-points'
export { type Cue, type CueSound, cuesOf } from './cue-sheet'
export { cutGain, cutLayer, withCutSound } from './cut-layer'
export { type EditedScore, type ScoreEdit, scoreWithEdit } from './edits'
export { lanesOf, type ScoreListContext, scoreToEdl, scoreToOtio } from './exchange'
export { lineValue } from './lines'
export { type Rebased, rebased, scoreChanges } from './merge'
export { type HeardPlace, type PlannedAndHeard, plannedAndHeard } from './planned-heard'
export { clipsFromEdl, clipsFromOtio, type ListedClip, type ListRead } from './read-lists'
export {
  type AdjustedDip,
  type AssemblyPiece,
  AUTOMATIC_FADE,
  type BreakPoint,
  type Delivery,
  type DuckRule,
  EMPTY_SCORE,
  FADE_CURVES,
  type Fade,
  type FadeCurve,
  type HitTarget,
  inOrder,
  LAYER_ROLES,
  type Layer,
  type LayerRole,
  type LayerValues,
  NEW_DUCK,
  newLayer,
  newPlacement,
  type PlacedAudio,
  type PlacedBed,
  type Placement,
  type PlacementValues,
  SAFETY_FADE_S,
  SCORE_LIMITS,
  type Score,
  TREATMENT_KINDS,
  type Treatment,
  type TreatmentChange,
  type TreatmentKind,
} from './score'
export { SCORE_ERROR_CODES, ScoreError } from './score-error'
export { sourceFactsOf } from './source-facts'
export {
  assemblyLengthS,
  hitOffsetS,
  hitOffsetsS,
  hitTimeS,
  meetsTarget,
  placedAt,
  placementEndS,
  placementLengthS,
  sourceLengthS,
  targetTimeS,
} from './timing'
export {
  audioKey,
  isHeard,
  isLayerHeard,
  type MixAudio,
  mixAudio,
  mixKey,
  placementsByMoment,
  type UsedSound,
  usedSounds,
} from './usage'
