import {
  decoyOf,
  type PreparedSound,
  type PreparedWindow,
  type RawDetection,
  type Searcher,
  searchPlan,
  searchSide,
  type Track,
  TreatedSearcher,
} from '../../../core/hearing'
import type { SearchedSound, SearchResult, SearchTask, TaskResult } from '../tasks'
import { loadedOrReason } from './features-files'
import { trackFrom, windowFrom } from './shared-memory'
import { sharedSearcher } from './shared-searcher'
import { asTaskResult } from './task-result'

/** Made when other speeds are first tried. */
let treatedSearcher: TreatedSearcher | null = null

/** Looks for some sounds in some windows of a track, and for decoys made from some of them. */
export function searchSounds(task: SearchTask): Promise<TaskResult<SearchResult>> {
  return asTaskResult(async () => {
    const searcher = sharedSearcher()
    const track = trackFrom(task.track)
    const windows = task.windows.map(windowFrom)
    const sounds = task.sounds.map(loadedOrReason)
    const found = bothSearches(
      searcher,
      track,
      windows,
      sounds.map(({ sound }) => sound),
      task,
    )
    const decoys = task.decoys.map(loadedOrReason).map(({ sound }) => sound && decoyOf(sound))
    return {
      finds: found.map((find) => ({ ...find, soundIndex: task.sounds[find.soundIndex]?.index ?? -1 })),
      decoyScores: bothSearches(searcher, track, windows, decoys, task).map(({ score }) => score),
      unreadable: sounds.flatMap(({ reason }, at) =>
        reason === null ? [] : [{ index: (task.sounds[at] as SearchedSound).index, reason }],
      ),
    }
  })
}

/** The plain search, and the one at other speeds where it is asked for; of a side the plain one alone. */
function bothSearches(
  using: Searcher,
  track: Track,
  windows: readonly PreparedWindow[],
  sounds: readonly (PreparedSound | null)[],
  { threshold, treated, track: { isExchanged } }: SearchTask,
): RawDetection[] {
  const plan = searchPlan(threshold, treated || isExchanged === true)
  if (isExchanged) return searchSide(using, track, windows, sounds, plan)
  const plain = using.search(track, windows, sounds, plan)
  if (!treated) return plain
  treatedSearcher ??= new TreatedSearcher(using.correlator, using.cells)
  const sure = plain.filter(({ score }) => score >= threshold)
  return [...plain, ...treatedSearcher.search(track, windows, sounds, { plain: sure, scoreMin: plan.scoreMin })]
}
