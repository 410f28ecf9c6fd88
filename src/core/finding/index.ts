export { CATEGORY_GROUPS, type Category, categoryOf, OTHER_GROUP, UNSORTED } from './categories'
export { dayOf, type FitTable } from './conditions'
export { COUNT_KINDS, type Counted, type CountKind, type FindCounts, LENGTH_EDGES_S, TEMPO_EDGES_BPM } from './counts'
export {
  COST_KINDS,
  type CostKind,
  type Filter,
  type FilterKind,
  filterWords,
  findFilter,
  SOUND_KINDS,
  type SoundKind,
} from './filters'
export { Finder, type FindRequest, type FindResult, type WordsMet } from './finder'
export { FEW_RESULTS } from './half-met'
export type { OfferedCondition } from './plain-conditions'
export { type LabelledNeighbour, proposedWords, type WordProposal } from './proposed-words'
export { MAX_PARTS, parsedQuery, type Query, type QueryPart, withFilter } from './query'
export { type FindingSound, Names, type Segment, SegmentBuilder } from './segment'
export { SORTS, type Sort } from './sorts'
export { type SpokenSound, spokenSounds } from './spoken'
export { parsedVocabulary, type Related, type Vocabulary, type VocabularyProblem } from './vocabulary'
export { stemsOf } from './words'
