import { bestProposals, HEARING_RATE_HZ, type Proposal, type RawDetection, searchPlan } from '../../core/hearing'
import { type Pool, runTask } from '../workers/pool'
import type {
  ConfirmTask,
  DecodedTrack,
  LookUpTask,
  PatchTask,
  SearchResult,
  SharedPatches,
  SharedWindow,
} from '../workers/tasks'
import { inBatches, type StageOptions, taskOptions } from './listening'
import { type ReferenceSet, type Stage, searchedSound } from './stages'
import { patchMemory } from './window-memory'

/** Sounds that are looked up, and sounds of which proposals are heard, in one task. */
const LOOKED_UP_PER_TASK = 32
const CONFIRMED_PER_TASK = 24
/**
 * So many of the places and speeds at which a sound may be are heard for each minute of track, the likeliest first, and one more for each sound: chance
 * proposes as many more as there are sounds. To hear them takes about a fifth of what the search as it is takes for as many sounds.
 */
const PROPOSALS_PER_MINUTE = 100
/** Share of a stage's work that other speeds are, for progress. */
export const LOOKUP_SHARE = 0.3

/** Looks the sounds of a stage up at other speeds, and hears what that proposes. */
export async function lookUpAtSpeeds(
  pool: Pool,
  track: DecodedTrack,
  reference: ReferenceSet,
  {
    stage,
    windows,
    threshold,
    plain,
  }: {
    readonly stage: Stage
    readonly windows: readonly SharedWindow[]
    readonly threshold: number
    readonly plain: readonly RawDetection[]
  },
  options: StageOptions,
): Promise<RawDetection[]> {
  if (stage.lookedUp.length === 0) return []
  const lookedUp = new Set(stage.lookedUp)
  const { scoreMin } = searchPlan(threshold, false)
  const perMinute = PROPOSALS_PER_MINUTE + stage.lookedUp.length
  let done = 0
  const inWindow = async (window: SharedWindow, at: number): Promise<RawDetection[]> => {
    const { start, frames } = window
    const patches: SharedPatches = { start, frames, rows: patchMemory(options.memory, at) }
    await runTask<null>(
      pool,
      'preparePatches',
      { track: track.shared, patches } satisfies PatchTask,
      taskOptions(options),
    )
    const most = Math.ceil((perMinute * Math.max(frames, HEARING_RATE_HZ)) / HEARING_RATE_HZ / 60)
    const tasks = inBatches(stage.lookedUp, LOOKED_UP_PER_TASK).map(
      (some): LookUpTask => ({ patches, sounds: some.map((index) => searchedSound(reference, index)), most }),
    )
    const proposed = await Promise.all(
      tasks.map((task) => runTask<readonly Proposal[]>(pool, 'lookUpSounds', task, taskOptions(options))),
    )
    const here = plain.filter(({ lag, from, soundIndex }) => {
      const heardAt = Math.max(0, lag + from)
      return lookedUp.has(soundIndex) && heardAt >= start && heardAt < start + frames
    })
    const best = bestProposals(proposed.flat(), most)
    const [proposals, plainFinds] = [bySound(best), bySound(here)]
    const sounds = [...new Set([...proposals.keys(), ...plainFinds.keys()])].map((index) => ({
      sound: searchedSound(reference, index),
      proposals: proposals.get(index) ?? [],
      plain: plainFinds.get(index) ?? [],
    }))
    const confirmed = await Promise.all(
      inBatches(sounds, CONFIRMED_PER_TASK).map((some) =>
        runTask<SearchResult>(
          pool,
          'confirmProposals',
          { track: track.shared, window, sounds: some, threshold, scoreMin } satisfies ConfirmTask,
          taskOptions(options),
        ),
      ),
    )
    done++
    options.report(1 - LOOKUP_SHARE + (LOOKUP_SHARE * done) / windows.length)
    return confirmed.flatMap(({ finds }) => finds)
  }
  return (await Promise.all(windows.map(inWindow))).flat()
}

function bySound<T extends { readonly soundIndex: number }>(items: readonly T[]): Map<number, T[]> {
  const groups = new Map<number, T[]>()
  for (const item of items) {
    const own = groups.get(item.soundIndex)
    if (own) own.push(item)
    else groups.set(item.soundIndex, [item])
  }
  return groups
}
