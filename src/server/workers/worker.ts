import './late-tiering'
import type { TaskResult, TimedResult } from './tasks'
import { returnUnusedArrays } from './unused-arrays'

/**
 * A handler whose code is loaded when it is first asked for: most threads do few kinds of work, and begin the sooner.
 *
 * @param load Its file. @param name What it is called there.
 */
function late<Name extends string, File extends Record<Name, (task: never) => Promise<TaskResult<unknown>>>>(
  load: () => Promise<File>,
  name: Name,
): (task: never) => Promise<TimedResult<unknown>> {
  return async (task) => {
    const beginMs = performance.now()
    const result = await (await load())[name](task)
    returnUnusedArrays()
    return { ...result, tookMs: performance.now() - beginMs }
  }
}

// Everything that a worker thread can be asked to do: one file a task.
export const addUp = late(() => import('./handlers/add-up'), 'addUp')
export const analyseSound = late(() => import('./handlers/analyse-sound'), 'analyseSound')
export const breakDownTrack = late(() => import('./handlers/break-down-track'), 'breakDownTrack')
export const takeOutOpposed = late(() => import('./handlers/break-down-track'), 'takeOutOpposed')
export const subtractFound = late(() => import('./handlers/break-down-track'), 'subtractFound')
export const checkpointDatabase = late(() => import('./handlers/checkpoint'), 'checkpointDatabase')
export const comparePieces = late(() => import('./handlers/compare-pieces'), 'comparePieces')
export const countSounds = late(() => import('./handlers/count-sounds'), 'countSounds')
export const cutSamples = late(() => import('./handlers/cut-track'), 'cutSamples')
export const cutTrack = late(() => import('./handlers/cut-track'), 'cutTrack')
export const decodeTrack = late(() => import('./handlers/decode-track'), 'decodeTrack')
export const inspectFile = late(() => import('./handlers/decode-track'), 'inspectFile')
export const describeSound = late(() => import('./handlers/describe-sound'), 'describeSound')
export const findOpposed = late(() => import('./handlers/decode-track'), 'findOpposed')
export const findLength = late(() => import('./handlers/find-length'), 'findLength')
export const groupSounds = late(() => import('./handlers/group-sounds'), 'groupSounds')
export const hashStoredFile = late(() => import('./handlers/hash-file'), 'hashStoredFile')
export const hearVoices = late(() => import('./handlers/hear-voices'), 'hearVoices')
export const measureMasking = late(() => import('./handlers/measure-masking'), 'measureMasking')
export const measurePlaced = late(() => import('./handlers/measure-placed'), 'measurePlaced')
export const measureSensitivity = late(() => import('./handlers/measure-sensitivity'), 'measureSensitivity')
export const decodeMixSource = late(() => import('./handlers/mix-sources'), 'decodeMixSource')
export const stretchMixSource = late(() => import('./handlers/mix-sources'), 'stretchMixSource')
export const prepareWindow = late(() => import('./handlers/prepare-window'), 'prepareWindow')
export const lookAtPicture = late(() => import('./handlers/read-picture'), 'lookAtPicture')
export const readPicture = late(() => import('./handlers/read-picture'), 'readPicture')
export const readSoundTable = late(() => import('./handlers/read-table'), 'readSoundTable')
export const compareTexts = late(() => import('./handlers/read-text'), 'compareTexts')
export const readLicenceText = late(() => import('./handlers/read-text'), 'readLicenceText')
export const deliverMixFile = late(() => import('./handlers/render-mix'), 'deliverMixFile')
export const mixPart = late(() => import('./handlers/render-mix'), 'mixPart')
export const renderStem = late(() => import('./handlers/render-mix'), 'renderStem')
export const resolveFinds = late(() => import('./handlers/resolve-finds'), 'resolveFinds')
export const searchSounds = late(() => import('./handlers/search-sounds'), 'searchSounds')
export const confirmProposals = late(() => import('./handlers/look-up'), 'confirmProposals')
export const lookUpSounds = late(() => import('./handlers/look-up'), 'lookUpSounds')
export const preparePatches = late(() => import('./handlers/look-up'), 'preparePatches')
export const matchSketches = late(() => import('./handlers/sketch-track'), 'matchSketches')
export const sketchTrack = late(() => import('./handlers/sketch-track'), 'sketchTrack')
export const expandTrack = late(() => import('./handlers/stored-track'), 'expandTrack')
export const findBeyondHeard = late(() => import('./handlers/stored-track'), 'findBeyondHeard')
export const storeTrack = late(() => import('./handlers/stored-track'), 'storeTrack')
export const tagCopy = late(() => import('./handlers/tag-copy'), 'tagCopy')
export const workOnCatalogue = late(() => import('./handlers/work-on-catalogue'), 'workOnCatalogue')
export const writeFlac = late(() => import('./handlers/write-media'), 'writeFlac')
export const writeVideo = late(() => import('./handlers/write-media'), 'writeVideo')

/** Only to have a thread started. */
export function nothing(): null {
  return null
}
