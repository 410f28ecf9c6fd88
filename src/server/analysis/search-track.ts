import fs from 'node:fs'
import type { StageFacts } from '../../core/clearance'
import {
  type Detection,
  type FalsePositiveModel,
  falsePositiveModel,
  HEARING_RATE_HZ,
  LOWEST_SCORE,
  type Opposition,
  type RawDetection,
  scoreThreshold,
  searchPlan,
  trackWindows,
} from '../../core/hearing'
import { overlaps, type TimeRange } from '../../core/time-range'
import { analysis as messages } from '../../messages/server/analysis'
import { type Pool, runTask } from '../workers/pool'
import type {
  OverlapTask,
  PrepareTask,
  SearchedSound,
  SearchResult,
  SearchTask,
  SharedTrack,
  SharedWindow,
  SubtractTask,
  TakeOutTask,
} from '../workers/tasks'
import { inBatchesByWeight, type SearchOptions, type StageOptions, type StageResult, taskOptions } from './listening'
import { LOOKUP_SHARE, lookUpAtSpeeds } from './look-up-at-speeds'
import {
  countsOf,
  type ReferenceSet,
  type SearchedTrack,
  type Stage,
  searchedSound,
  stageMinutes,
  stagesOf,
  WINDOWS_PER_STAGE,
} from './stages'
import { memoryFor, restMemory, type WindowMemory } from './window-memory'

/** Sounds searched in one task at most: small enough to spread over the workers and to show progress. */
const SOUNDS_PER_TASK = 16
/** And their features, bytes: in a thread they take some four times as much. Sixteen pieces of music would be half a gigabyte. */
const FEATURES_PER_TASK_BYTES = 16e6
/** So many tasks for each worker, or their ends are ragged. */
const TASKS_PER_WORKER = 4

/** A place where a sound answered, s. */
export interface Answer extends TimeRange {
  readonly soundIndex: number
}

/** What a search of a track came to. */
export interface SearchedFinds {
  readonly detections: readonly Detection[]
  /** Where each sound answered, also where that is not enough to be reported. */
  readonly answers: readonly Answer[]
  /** Decoys, which cannot be in the track, that answered at a score that would have been reported. */
  readonly decoyFinds: number
  readonly unreadable: SearchResult['unreadable']
  /** What was searched for. All of it is over: a search that breaks off gives no result. */
  readonly stages: readonly StageFacts[]
  /** Where left and right oppose each other without what was heard there; null where nothing was. */
  readonly opposition: Opposition | null
  /** Memory of the search, which what comes after it may use. */
  readonly memory: WindowMemory
}

/**
 * Searches a track for sounds: the shortlist first, then the rest, in stretches of six minutes; then the shortlist once more under what was heard.
 *
 * @throws {Error} AbortError.
 */
export async function searchTrack(
  pool: Pool,
  track: SearchedTrack,
  reference: ReferenceSet,
  options: SearchOptions = {},
): Promise<SearchedFinds> {
  const memory: WindowMemory = { windows: [], patches: [], rest: null }
  const gathered: StageResult[] = []
  const stages = stagesOf(track, reference)
  let detections: Detection[] = []
  for (const [at, stage] of stages.entries()) {
    const report = (fraction: number): void => options.onProgress?.((at + fraction) / stages.length, stage.doing)
    gathered.push(await runStage(pool, track, reference, stage, { ...options, report, memory }))
    const last = at === stages.length - 1
    if (!last && !options.onHeard) continue
    detections = await resolvedFinds(pool, track, reference, gathered, options)
    if (!last) await options.onHeard?.(detections)
  }
  // Before the rest of the track is laid over its side.
  const explained = heardWhereOpposed(track, detections)
  const opposition = await oppositionWithout(pool, track, reference, explained, options)
  const again = await searchStageAgain(pool, track, reference, detections, { ...options, memory })
  if (again) {
    gathered.push(again)
    detections = await resolvedFinds(pool, track, reference, gathered, options)
  }
  const isKept = explained.every((find) => detections.some((one) => isSameFind(find, one)))
  const decoyScores = gathered.flatMap((result) => [...result.decoyScores, ...(result.decoyScoresAtSpeeds ?? [])])
  const { shortlist, rest } = countsOf(reference)
  const threshold = scoreThreshold({ soundCount: shortlist + rest, durationS: track.durationS })
  return {
    detections,
    answers: gathered.flatMap(({ finds }) => finds).map(answerOf),
    decoyFinds: decoyScores.filter((score) => score >= threshold).length,
    unreadable: uniqueByIndex(gathered.flatMap((result) => result.unreadable)),
    stages: stageFacts(reference, track, again !== null),
    opposition: isKept ? opposition : null,
    memory,
  }
}

function isSameFind(one: Detection, other: Detection): boolean {
  return one.soundIndex === other.soundIndex && one.startS === other.startS && one.endS === other.endS
}

/** What may be in the side where left and right oppose each other: what was heard there, or in the middle, where it may be too. */
function heardWhereOpposed(
  { opposed = [], partlyOpposed = [] }: SearchedTrack,
  detections: readonly Detection[],
): Detection[] {
  const places = [...opposed, ...partlyOpposed]
  return detections.filter((find) => find.inSide || places.some((place) => overlaps(place, find)))
}

/** Takes what was heard out of the side: where left and right oppose each other beyond that. Null where nothing was heard there. */
async function oppositionWithout(
  pool: Pool,
  track: SearchedTrack,
  reference: ReferenceSet,
  heard: readonly Detection[],
  options: SearchOptions,
): Promise<Opposition | null> {
  if (heard.length === 0) return null
  const task: TakeOutTask = { track: track.shared, detections: heard, paths: reference.featurePaths }
  return runTask<Opposition>(pool, 'takeOutOpposed', task, taskOptions(options))
}

function answerOf({ soundIndex, lag, from, to, speed = 1 }: RawDetection): Answer {
  const second = (frame: number): number => (lag + frame / speed) / HEARING_RATE_HZ
  return { soundIndex, startS: second(from), endS: second(to) }
}

async function runStage(
  pool: Pool,
  track: SearchedTrack,
  reference: ReferenceSet,
  stage: Stage,
  options: StageOptions,
): Promise<StageResult> {
  options.report(0)
  const known = await options.stages?.load(stage.key)
  if (known) return known
  const searched: SearchedTrack = stage.ofSide ? { ...track, shared: { ...track.shared, isExchanged: true } } : track
  const windows = await prepared(pool, searched, stage, options)
  const result = await searchStage(pool, searched, reference, stage, windows, options)
  await options.stages?.save(stage.key, result)
  return result
}

/**
 * Takes what was heard out of the track and looks for the shortlist once more around it: a sound that lay under a louder one
 * comes to light.
 */
async function searchStageAgain(
  pool: Pool,
  track: SearchedTrack,
  reference: ReferenceSet,
  detections: readonly Detection[],
  { memory, ...options }: SearchOptions & { readonly memory: WindowMemory },
): Promise<StageResult | null> {
  const { heardBefore = { detections: [], paths: [] } } = options
  const heard = [
    ...detections,
    ...heardBefore.detections.map((find) => ({
      ...find,
      soundIndex: reference.featurePaths.length + find.soundIndex,
    })),
  ]
  const windows = trackWindows(track.shared.frames).filter(({ start, frames }) =>
    heard.some(({ startS, endS }) => endS * HEARING_RATE_HZ > start && startS * HEARING_RATE_HZ < start + frames),
  )
  if (reference.shortlist.length === 0 || windows.length === 0) return null
  const task: SubtractTask = {
    track: track.shared,
    detections: heard,
    paths: [...reference.featurePaths, ...heardBefore.paths],
    rest: restMemory(memory, track.shared),
  }
  const rest = await runTask<SharedTrack>(pool, 'subtractFound', task, taskOptions(options))
  const doing = messages.listeningUnderWhatWasHeard
  const results: StageResult[] = []
  for (let at = 0; at < windows.length; at += WINDOWS_PER_STAGE) {
    const stretch = windows.slice(at, at + WINDOWS_PER_STAGE)
    const stage: Stage = {
      key: `again ${at}`,
      doing,
      indices: reference.shortlist,
      decoys: [],
      soundCount: countsOf(reference).shortlist,
      treated: false,
      lookedUp: [],
      windows: stretch,
      ofSide: false,
    }
    const report = (): void => options.onProgress?.(1, doing)
    results.push(await runStage(pool, { ...track, shared: rest }, reference, stage, { ...options, report, memory }))
  }
  return { ...(results[0] as StageResult), finds: results.flatMap(({ finds }) => finds) }
}

function stageFacts(reference: ReferenceSet, track: SearchedTrack, again: boolean): StageFacts[] {
  const stages = stagesOf(track, reference)
  const counts = countsOf(reference)
  const fact = (name: StageFacts['name'], soundCount: number, among: number, otherSpeeds: boolean): StageFacts => ({
    name,
    soundCount,
    threshold: scoreThreshold({ soundCount: among, durationS: track.durationS }),
    otherSpeeds,
    isComplete: true,
  })
  const names = ['shortlist', 'catalogue'] as const
  const lookedUp = stages.find((stage) => stage.lookedUp.length > 0)
  const side = stages.find((stage) => stage.ofSide)
  return [
    ...names.flatMap((name) => {
      const stage = stages.find(({ key }) => key.startsWith(name))
      return stage ? [fact(name, stage.indices.length, stage.soundCount, stage.treated)] : []
    }),
    ...(lookedUp ? [fact('looked-up', lookedUp.lookedUp.length, lookedUp.soundCount, true)] : []),
    ...(side ? [fact('side', side.indices.length, side.soundCount, false)] : []),
    ...(again ? [fact('again', reference.shortlist.length, counts.shortlist, false)] : []),
  ]
}

function prepared(
  pool: Pool,
  track: SearchedTrack,
  stage: Stage,
  { memory, ...options }: SearchOptions & { readonly memory: WindowMemory },
): Promise<SharedWindow[]> {
  return Promise.all(
    stage.windows.map(async ({ start, frames }, at) => {
      const window: SharedWindow = { start, frames, ...memoryFor(memory, at) }
      const task: PrepareTask = { track: track.shared, window }
      await runTask<null>(pool, 'prepareWindow', task, taskOptions(options))
      return window
    }),
  )
}

async function searchStage(
  pool: Pool,
  track: SearchedTrack,
  reference: ReferenceSet,
  stage: Stage,
  windows: readonly SharedWindow[],
  options: StageOptions,
): Promise<StageResult> {
  const threshold = scoreThreshold({ soundCount: stage.soundCount, durationS: track.durationS })
  const shared = { track: track.shared, threshold, treated: stage.treated }
  const inTasks = (indices: readonly number[]): SearchedSound[][] =>
    inBatchesByWeight(
      indices.map((index) => searchedSound(reference, index)),
      {
        size: Math.min(SOUNDS_PER_TASK, Math.ceil(indices.length / (pool.maxThreads * TASKS_PER_WORKER))),
        most: FEATURES_PER_TASK_BYTES,
        weightOf: featureBytes,
      },
    )
  // All windows of the stage in one task: what a sound is searched by is made once, and not for each window.
  const tasks: SearchTask[] = [
    ...inTasks(stage.indices).map((sounds) => ({ ...shared, windows, sounds, decoys: [] })),
    ...inTasks(stage.decoys).map((decoys) => ({ ...shared, windows, sounds: [], decoys })),
  ]
  const searchShare = stage.lookedUp.length > 0 ? 1 - LOOKUP_SHARE : 1
  let done = 0
  const results = await Promise.all(
    tasks.map(async (task) => {
      const result = await runTask<SearchResult>(pool, 'searchSounds', task, taskOptions(options))
      done++
      options.report((searchShare * done) / tasks.length)
      return result
    }),
  )
  const plain = results.flatMap(({ finds }) => finds)
  const lookedUp = await lookUpAtSpeeds(pool, track, reference, { stage, windows, threshold, plain }, options)
  return {
    finds: [...plain, ...lookedUp.finds],
    decoyScoresAtSpeeds: stage.lookedUp.length > 0 ? lookedUp.decoyScores : null,
    decoyScores: results.flatMap(({ decoyScores }) => decoyScores),
    decoyScoreMin: Math.max(LOWEST_SCORE, searchPlan(threshold, stage.treated).scoreMin),
    decoyMinutes: stage.decoys.length * stageMinutes(stage),
    unreadable: results.flatMap(({ unreadable }) => unreadable),
  }
}

/** What the features of a sound weigh; nothing where they are gone, which the task that wants them says. */
function featureBytes({ path }: SearchedSound): number {
  return fs.statSync(path, { throwIfNoEntry: false })?.size ?? 0
}

function resolvedFinds(
  pool: Pool,
  track: SearchedTrack,
  reference: ReferenceSet,
  gathered: readonly StageResult[],
  options: SearchOptions,
): Promise<Detection[]> {
  const task: OverlapTask = {
    raw: gathered.flatMap(({ finds }) => finds),
    paths: reference.featurePaths,
    durationS: track.durationS,
    chance: seenFalsePositives(gathered, ({ decoyScores }) => decoyScores),
    chanceAtSpeeds: seenFalsePositives(gathered, ({ decoyScoresAtSpeeds }) => decoyScoresAtSpeeds),
    groups: reference.groups,
    shortlist: reference.shortlist,
    counts: countsOf(reference),
  }
  return runTask<Detection[]>(pool, 'resolveFinds', task, taskOptions(options))
}

/** How chance behaves in some kind of search. @param scoresOf How decoys answered to it; null where it was not done. */
function seenFalsePositives(
  gathered: readonly StageResult[],
  scoresOf: (result: StageResult) => readonly number[] | null,
): FalsePositiveModel {
  const heard = gathered.filter((result) => result.decoyMinutes > 0 && scoresOf(result) !== null)
  return falsePositiveModel(
    heard.flatMap((result) => scoresOf(result) ?? []),
    Math.max(LOWEST_SCORE, ...heard.map(({ decoyScoreMin }) => decoyScoreMin)),
    heard.reduce((sum, { decoyMinutes }) => sum + decoyMinutes, 0),
  )
}

function uniqueByIndex<T extends { readonly index: number }>(items: readonly T[]): T[] {
  return [...new Map(items.map((item) => [item.index, item])).values()]
}
