import './late-tiering'

export { addUp } from './handlers/add-up'
/** Everything that a worker thread can be asked to do: one file a task. */
export { analyseSound } from './handlers/analyse-sound'
export { breakDownTrack, subtractFound } from './handlers/break-down-track'
export { checkpointDatabase } from './handlers/checkpoint'
export { comparePieces } from './handlers/compare-pieces'
export { countSounds } from './handlers/count-sounds'
export { cutSamples, cutTrack } from './handlers/cut-track'
export { decodeTrack, inspectFile } from './handlers/decode-track'
export { describeSound } from './handlers/describe-sound'
export { findLength } from './handlers/find-length'
export { groupSounds } from './handlers/group-sounds'
export { hashStoredFile } from './handlers/hash-file'
export { hearVoices } from './handlers/hear-voices'
export { measureMasking } from './handlers/measure-masking'
export { measurePlaced } from './handlers/measure-placed'
export { measureSensitivity } from './handlers/measure-sensitivity'
export { decodeMixSource, stretchMixSource } from './handlers/mix-sources'
export { prepareWindow } from './handlers/prepare-window'
export { lookAtPicture, readPicture } from './handlers/read-picture'
export { readSoundTable } from './handlers/read-table'
export { compareTexts, readLicenceText } from './handlers/read-text'
export { deliverMixFile, mixPart, renderStem } from './handlers/render-mix'
export { resolveFinds } from './handlers/resolve-finds'
export { searchSounds } from './handlers/search-sounds'
export { searchStoredTrack } from './handlers/search-stored-track'
export { matchSketches, sketchTrack } from './handlers/sketch-track'
export { storeTrack } from './handlers/store-track'
export { tagCopy } from './handlers/tag-copy'
export { workOnCatalogue } from './handlers/work-on-catalogue'
export { writeFlac, writeVideo } from './handlers/write-media'

/** Only to have a thread started. */
export function nothing(): null {
  return null
}
