import { bestProposals, HEARING_RATE_HZ, type RawDetection, searchPlan } from '../../core/hearing'
import { type Pool, runTask } from '../workers/pool'
import type {
  ConfirmTask,
  LookUpTask,
  PatchTask,
  Proposed,
  SearchedSound,
  SearchResult,
  SharedPatches,
  SharedWindow,
} from '../workers/tasks'
import { inBatches, type StageOptions, taskOptions } from './listening'
import { type ReferenceSet, type SearchedTrack, type Stage, searchedSound } from './stages'
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

/** What is heard at other speeds, and how decoys answer there. */
interface HeardAtSpeeds {
  readonly finds: readonly RawDetection[]
  readonly decoyScores: readonly number[]
}

/** Looks the sounds of a stage up at other speeds, and hears what that proposes; decoys likewise, where they are as likely as what is heard. */
export async function lookUpAtSpeeds(
  pool: Pool,
  track: SearchedTrack,
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
): Promise<HeardAtSpeeds> {
  if (stage.lookedUp.length === 0) return { finds: [], decoyScores: [] }
  const lookedUp = new Set(stage.lookedUp)
  const { scoreMin } = searchPlan(threshold, false)
  const perMinute = PROPOSALS_PER_MINUTE + stage.lookedUp.length
  let done = 0
  const inWindow = async (window: SharedWindow, at: number): Promise<HeardAtSpeeds> => {
    const { start, frames } = window
    const patches: SharedPatches = { start, frames, rows: patchMemory(options.memory, at) }
    await runTask<null>(
      pool,
      'preparePatches',
      { track: track.shared, patches } satisfies PatchTask,
      taskOptions(options),
    )
    const most = Math.ceil((perMinute * Math.max(frames, HEARING_RATE_HZ)) / HEARING_RATE_HZ / 60)
    const inTasks = (indices: readonly number[]): SearchedSound[][] =>
      inBatches(indices, LOOKED_UP_PER_TASK).map((some) => some.map((index) => searchedSound(reference, index)))
    const tasks: LookUpTask[] = [
      ...inTasks(stage.lookedUp).map((sounds) => ({ patches, sounds, decoys: [], most })),
      ...inTasks(stage.decoys).map((decoys) => ({ patches, sounds: [], decoys, most })),
    ]
    const proposed = await Promise.all(
      tasks.map((task) => runTask<Proposed>(pool, 'lookUpSounds', task, taskOptions(options))),
    )
    const here = plain.filter(({ lag, from, soundIndex }) => {
      const heardAt = Math.max(0, lag + from)
      return lookedUp.has(soundIndex) && heardAt >= start && heardAt < start + frames
    })
    const all = proposed.flatMap(({ ofSounds }) => ofSounds)
    const best = bestProposals(all, most)
    const [proposals, plainFinds] = [bySound(best), bySound(here)]
    const sounds = [...new Set([...proposals.keys(), ...plainFinds.keys()])].map((index) => ({
      sound: searchedSound(reference, index),
      proposals: proposals.get(index) ?? [],
      plain: plainFinds.get(index) ?? [],
    }))
    // A decoy is heard where it would be if it were one of the sounds: among the likeliest.
    const zMin = all.length > most ? best.reduce((least, { z }) => Math.min(least, z), Infinity) : -Infinity
    const likely = proposed.flatMap(({ ofDecoys }) => ofDecoys).filter(({ z }) => z >= zMin)
    const decoys = [...bySound(bestProposals(likely, likely.length))].map(([index, some]) => ({
      sound: searchedSound(reference, index),
      proposals: some,
    }))
    const about = { track: track.shared, window, threshold, scoreMin }
    const confirmations: ConfirmTask[] = [
      ...inBatches(sounds, CONFIRMED_PER_TASK).map((some) => ({ ...about, sounds: some, decoys: [] })),
      ...inBatches(decoys, CONFIRMED_PER_TASK).map((some) => ({ ...about, sounds: [], decoys: some })),
    ]
    const confirmed = await Promise.all(
      confirmations.map((task) => runTask<SearchResult>(pool, 'confirmProposals', task, taskOptions(options))),
    )
    done++
    options.report(1 - LOOKUP_SHARE + (LOOKUP_SHARE * done) / windows.length)
    return joined(confirmed)
  }
  return joined(await Promise.all(windows.map(inWindow)))
}

function joined(some: readonly HeardAtSpeeds[]): HeardAtSpeeds {
  return {
    finds: some.flatMap(({ finds }) => finds),
    decoyScores: some.flatMap(({ decoyScores }) => decoyScores),
  }
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
