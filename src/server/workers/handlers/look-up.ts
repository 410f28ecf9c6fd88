import {
  bestProducts,
  bestProposals,
  decoyOf,
  LookedUpSearcher,
  PATCH_COMPONENTS,
  type PatchProducts,
  type PatchRows,
  type PreparedSound,
  type Proposal,
  patchCount,
  proposalsIn,
  type RawDetection,
  type TemplateRows,
  trackPatches,
} from '../../../core/hearing'
import type {
  ConfirmTask,
  LookUpTask,
  PatchTask,
  Proposed,
  SearchedSound,
  SearchResult,
  SharedPatches,
  TaskResult,
} from '../tasks'
import { loadedDecoyTemplates, loadedSound, loadedTemplates, withErrorsSuppressed } from './features-files'
import { trackFrom, windowFrom } from './shared-memory'
import { sharedSearcher } from './shared-searcher'
import { asTaskResult } from './task-result'

/** Made once a thread: their memory outlasts a task. */
let products: PatchProducts | null = null
let searcher: LookedUpSearcher | null = null

/** Makes the patches of a stretch of track, into shared memory. */
export function preparePatches({ track, patches }: PatchTask): Promise<TaskResult<null>> {
  return asTaskResult(async () => {
    trackPatches(trackFrom(track), patches, rowsOf(patches))
    return null
  })
}

/** Looks some sounds up in a stretch of track, and decoys. A sound whose features cannot be read is named by the search in full. */
export function lookUpSounds({ patches, sounds, decoys, most }: LookUpTask): Promise<TaskResult<Proposed>> {
  return asTaskResult(async () => {
    products ??= bestProducts()
    const using = products
    const rows: PatchRows = { start: patches.start, rows: rowsOf(patches) }
    const proposed = (some: readonly SearchedSound[], load: (path: string) => TemplateRows | null): Proposal[] => {
      const templates = some.map(({ path }) => withErrorsSuppressed(() => load(path)))
      const proposals = proposalsIn(rows, templates, using)
      return bestProposals(proposals, most).map((one) => ({ ...one, soundIndex: some[one.soundIndex]?.index ?? -1 }))
    }
    return { ofSounds: proposed(sounds, loadedTemplates), ofDecoys: proposed(decoys, loadedDecoyTemplates) }
  })
}

/** Hears what was looked up in a window of a track, and what plain finds of parts may be grains of. */
export function confirmProposals(task: ConfirmTask): Promise<TaskResult<SearchResult>> {
  return asTaskResult(async () => {
    const { correlator, cells } = sharedSearcher()
    searcher ??= new LookedUpSearcher(correlator, cells)
    const using = searcher
    const track = trackFrom(task.track)
    const window = windowFrom(task.window)
    const { threshold, scoreMin } = task
    const heard = (
      { sound: { index, path }, proposals, plain }: ConfirmTask['sounds'][number],
      made: (sound: PreparedSound) => PreparedSound,
    ): RawDetection[] => {
      const prepared = withErrorsSuppressed(() => loadedSound(path))
      const about = { soundIndex: index, proposals, plain, threshold, scoreMin }
      return prepared ? using.search(track, window, made(prepared), about) : []
    }
    const finds = task.sounds.flatMap((one) => heard(one, (sound) => sound))
    const ofDecoys = task.decoys.flatMap((one) => heard({ ...one, plain: [] }, decoyOf))
    return { finds, decoyScores: ofDecoys.map(({ score }) => score), unreadable: [] }
  })
}

/** The memory may be larger: it is shared by stretches of all lengths. */
function rowsOf(patches: SharedPatches): Int16Array {
  return new Int16Array(patches.rows, 0, patchCount(patches) * PATCH_COMPONENTS)
}
