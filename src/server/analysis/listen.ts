import fs from 'node:fs'
import type { StageFacts } from '../../core/clearance'
import {
  type Detection,
  type FalsePositiveModel,
  falsePositiveModel,
  HEARING_RATE_HZ,
  LOWEST_SCORE,
  scoreThreshold,
  searchPlan,
  type TrackBreakdown,
  trackWindows,
} from '../../core/hearing'
import { analysis as messages } from '../../messages/server/analysis'
import { type Pool, runTask } from '../workers/pool'
import type {
  BreakdownTask,
  CompactTask,
  DecodedTrack,
  OverlapTask,
  PrepareTask,
  SearchedSound,
  SearchResult,
  SearchTask,
  Sensitivity,
  SensitivityTask,
  SharedTrack,
  SharedWindow,
  SubtractTask,
} from '../workers/tasks'
import { decodeWatched } from './decode-watched'
import {
  inBatchesByWeight,
  type ListeningResult,
  type ListenOptions,
  type StageOptions,
  type StageResult,
  taskOptions,
} from './listening'
import { LOOKUP_SHARE, lookUpAtSpeeds } from './look-up-at-speeds'
import {
  decoysOf,
  type ReferenceSet,
  type Stage,
  searchedSound,
  stageMinutes,
  stagesOf,
  WINDOWS_PER_STAGE,
} from './stages'
import { memoryFor, restMemory, type WindowMemory } from './window-memory'

/** Share of the work that decoding is, for progress. */
const DECODE_SHARE = 0.2
/** Sounds searched in one task at most: small enough to spread over the workers and to show progress. */
const SOUNDS_PER_TASK = 16
/** And their features, bytes: in a thread they take some four times as much. Sixteen pieces of music would be half a gigabyte. */
const FEATURES_PER_TASK_BYTES = 16e6
/** So many tasks for each worker, or their ends are ragged. */
const TASKS_PER_WORKER = 4
const SENSITIVITIES_PER_TASK = 250

/**
 * Listens to a media file for sounds: the shortlist first, then the rest, in stretches of six minutes.
 *
 * @throws {MediaError} when the file gives no sound; AbortError.
 */
export async function listen(
  pool: Pool,
  mediaPath: string,
  reference: ReferenceSet,
  options: ListenOptions = {},
): Promise<ListeningResult> {
  const startMs = performance.now()
  const { track, voices } = await decodeWatched(pool, mediaPath, {
    trackIndex: options.trackIndex ?? 0,
    onProgress: (fraction) => options.onProgress?.(fraction * DECODE_SHARE, messages.decodingTheSoundTrack),
    ...taskOptions(options),
  })
  const decodeS = (performance.now() - startMs) / 1000
  const searchMs = performance.now()
  const windows: WindowMemory = { windows: [], patches: [], rest: null }
  const gathered: StageResult[] = []
  const stages = stagesOf(track, reference)
  let detections: Detection[] = []
  for (const [at, stage] of stages.entries()) {
    const report = (fraction: number): void =>
      options.onProgress?.(DECODE_SHARE + (1 - DECODE_SHARE) * ((at + fraction) / stages.length), stage.doing)
    gathered.push(await runStage(pool, track, reference, stage, { ...options, report, memory: windows }))
    const last = at === stages.length - 1
    if (!last && !options.onHeard) continue
    detections = await resolvedFinds(pool, track, reference, gathered, options)
    if (!last) await options.onHeard?.(detections, track)
  }
  const again = await searchStageAgain(pool, track, reference, detections, { ...options, memory: windows })
  if (again) {
    gathered.push(again)
    detections = await resolvedFinds(pool, track, reference, gathered, options)
  }
  options.onProgress?.(1, messages.takingStockOfTheTrack)
  const rest = restMemory(windows, track.shared)
  const about = { track: track.shared, detections, paths: reference.featurePaths, rest }
  const [breakdown, compact, sensitivity] = await Promise.all([
    voices.then((speech) =>
      runTask<TrackBreakdown>(
        pool,
        'breakDownTrack',
        { ...about, speech } satisfies BreakdownTask,
        taskOptions(options),
      ),
    ),
    options.keep
      ? runTask<Uint8Array>(pool, 'storeTrack', { track: track.shared } satisfies CompactTask, taskOptions(options))
      : null,
    measureSensitivities(pool, track, reference, detections, options),
  ])
  const decoyScores = gathered.flatMap((result) => [...result.decoyScores, ...(result.decoyScoresAtSpeeds ?? [])])
  const threshold = scoreThreshold({ soundCount: reference.featurePaths.length, durationS: track.durationS })
  return {
    track,
    detections,
    decoyFinds: decoyScores.filter((score) => score >= threshold).length,
    decoyCount: decoysOf(reference).length,
    unreadable: uniqueByIndex(gathered.flatMap((result) => result.unreadable)),
    breakdown,
    compact,
    sensitivity,
    stages: stageFacts(reference, track, again !== null),
    timing: { decodeS, searchS: (performance.now() - searchMs) / 1000 },
  }
}

async function runStage(
  pool: Pool,
  track: DecodedTrack,
  reference: ReferenceSet,
  stage: Stage,
  options: StageOptions,
): Promise<StageResult> {
  options.report(0)
  const known = await options.stages?.load(stage.key)
  if (known) return known
  const windows = await prepared(pool, track, stage, options)
  const result = await searchStage(pool, track, reference, stage, windows, options)
  await options.stages?.save(stage.key, result)
  return result
}

/**
 * Takes what was heard out of the track and looks for the shortlist once more around it: a sound that lay under a louder one
 * comes to light.
 */
async function searchStageAgain(
  pool: Pool,
  track: DecodedTrack,
  reference: ReferenceSet,
  detections: readonly Detection[],
  { memory, ...options }: ListenOptions & { readonly memory: WindowMemory },
): Promise<StageResult | null> {
  const windows = trackWindows(track.shared.frames).filter(({ start, frames }) =>
    detections.some(({ startS, endS }) => endS * HEARING_RATE_HZ > start && startS * HEARING_RATE_HZ < start + frames),
  )
  if (reference.shortlist.length === 0 || windows.length === 0) return null
  const task: SubtractTask = {
    track: track.shared,
    detections,
    paths: reference.featurePaths,
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
      treated: false,
      lookedUp: [],
      windows: stretch,
    }
    const report = (): void => options.onProgress?.(1, doing)
    results.push(await runStage(pool, { ...track, shared: rest }, reference, stage, { ...options, report, memory }))
  }
  return { ...(results[0] as StageResult), finds: results.flatMap(({ finds }) => finds) }
}

/** What was searched for. All of it is over when this is written: a search that breaks off gives no result. */
function stageFacts(reference: ReferenceSet, track: DecodedTrack, again: boolean): StageFacts[] {
  const stages = stagesOf(track, reference)
  const fact = (name: StageFacts['name'], soundCount: number, otherSpeeds: boolean): StageFacts => ({
    name,
    soundCount,
    threshold: scoreThreshold({ soundCount, durationS: track.durationS }),
    otherSpeeds,
    isComplete: true,
  })
  const names = ['shortlist', 'catalogue'] as const
  const lookedUp = stages.find((stage) => stage.lookedUp.length > 0)?.lookedUp ?? []
  return [
    ...names.flatMap((name) => {
      const stage = stages.find(({ key }) => key.startsWith(name))
      return stage ? [fact(name, stage.indices.length, stage.treated)] : []
    }),
    ...(lookedUp.length > 0 ? [fact('looked-up', lookedUp.length, true)] : []),
    ...(again ? [fact('again', reference.shortlist.length, false)] : []),
  ]
}

/** From which level the sounds that were not heard would have been. */
async function measureSensitivities(
  pool: Pool,
  track: DecodedTrack,
  reference: ReferenceSet,
  detections: readonly Detection[],
  options: ListenOptions,
): Promise<Sensitivity[]> {
  const heard = new Set(detections.flatMap(({ soundIndex, alternatives }) => [soundIndex, ...alternatives]))
  const short = new Set(reference.shortlist)
  const parts = [true, false].flatMap((ofShortlist) => {
    const indices = reference.featurePaths.map((_, index) => index).filter((index) => short.has(index) === ofShortlist)
    const threshold = scoreThreshold({ soundCount: indices.length, durationS: track.durationS })
    const silent = indices.filter((index) => !heard.has(index))
    const tasks: SensitivityTask[] = []
    for (let i = 0; i < silent.length; i += SENSITIVITIES_PER_TASK)
      tasks.push({
        track: track.shared,
        threshold,
        sounds: silent.slice(i, i + SENSITIVITIES_PER_TASK).map((index) => searchedSound(reference, index)),
      })
    return tasks
  })
  const results = await Promise.all(
    parts.map((task) => runTask<Sensitivity[]>(pool, 'measureSensitivity', task, taskOptions(options))),
  )
  return results.flat().sort((a, b) => a.index - b.index)
}

function prepared(
  pool: Pool,
  track: DecodedTrack,
  stage: Stage,
  { memory, ...options }: ListenOptions & { readonly memory: WindowMemory },
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
  track: DecodedTrack,
  reference: ReferenceSet,
  stage: Stage,
  windows: readonly SharedWindow[],
  options: StageOptions,
): Promise<StageResult> {
  const threshold = scoreThreshold({ soundCount: stage.indices.length, durationS: track.durationS })
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
  track: DecodedTrack,
  { featurePaths, groups, shortlist }: ReferenceSet,
  gathered: readonly StageResult[],
  options: ListenOptions,
): Promise<Detection[]> {
  const task: OverlapTask = {
    raw: gathered.flatMap(({ finds }) => finds),
    paths: featurePaths,
    durationS: track.durationS,
    chance: seenFalsePositives(gathered, ({ decoyScores }) => decoyScores),
    chanceAtSpeeds: seenFalsePositives(gathered, ({ decoyScoresAtSpeeds }) => decoyScoresAtSpeeds),
    groups,
    shortlist,
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
