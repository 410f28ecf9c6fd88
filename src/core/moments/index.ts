export { type CarriedMoment, type CarryOver, carriedOver, carriedTime } from './carry-over'
export { applied, EDIT_ERROR_CODES, EditError, type Edited, type MomentsEdit, shiftedAfter } from './edits'
export {
  type FormatContext,
  type ImportPlan,
  importPlan,
  MOMENT_FORMATS,
  type MomentFormat,
  markersIn,
  momentMarkers,
  momentsAs,
} from './exchange'
export {
  loudnessAround,
  meetingS,
  neighbourTimes,
  type PlaceFit,
  type PlaceForSound,
  placeFit,
  placeOfMoment,
} from './fit'
export { type ChangeCounts, changeCounts, editsBetween, type Merged, mergedDocuments } from './merge'
export {
  CROWDED_PER_MINUTE,
  type Dismissed,
  freeSlot,
  inOrder,
  MOMENT_KINDS,
  MOMENT_LIMITS,
  MOMENT_WEIGHTS,
  type Moment,
  type MomentKind,
  type MomentsDocument,
  type MomentValues,
  type MomentWeight,
  NO_MOMENTS,
  newMoment,
  SHORT_LIST_SLOTS,
  type ShortListed,
  type ShortListSlot,
} from './moment'
export { type PaceNote, type PacePoint, type Pacing, pacing } from './pacing'
export { isLearned, MAX_REACTION_S, NO_REACTION, type Reaction, reactionS, withCorrection } from './reaction'
export { filtersForMoment } from './search-for-moment'
export { type CutSignals, cutLengthS, cutSignals, loudnessBytes, loudnessOfBytes, soundEvents } from './signals'
export {
  type SoundHabit,
  type SpokenWord,
  SUGGESTION_KINDS,
  type Suggestion,
  type SuggestionInput,
  type SuggestionKind,
  suggestionsFor,
} from './suggestions'
