import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import type { CheckReport } from '../contract'
import { certaintyOf, type RecordingRelations } from '../core/hearing'
import { commands as messages } from '../messages/server/commands'
import { inspectWatched } from '../server/analysis/decode-watched'
import { listen } from '../server/analysis/listen'
import type { ListeningResult } from '../server/analysis/listening'
import type { ReferenceSet } from '../server/analysis/stages'
import { MediaError } from '../server/media/decoder'
import { createPool, type Pool, runTask } from '../server/workers/pool'
import type { FileInspection, GroupTask } from '../server/workers/tasks'
import { EXIT, InputError, UsageError } from './exit'
import { indexSounds } from './feature-cache'
import { type ListedFile, soundFiles } from './sound-files'
import { detectionTable } from './table'

interface Arguments {
  readonly file: string
  readonly sounds: string
  readonly json: string | null
  readonly workers: number
  /** Folder that keeps prepared features for the next run. */
  readonly features: string | null
  readonly stage: StageChoice | null
}

/** How the sounds are searched: all with full sensitivity, as if they were known to be in the video, or as a large catalogue. */
const STAGES = ['copies', 'catalogue'] as const
type StageChoice = (typeof STAGES)[number]

/** Up to so many sounds are searched with full sensitivity where nothing is said. */
const COPIES_MAX = 200

/** `thud check`: listens to a file for every sound of a folder. @returns The exit status. @throws {UsageError} */
export async function checkCommand(args: readonly string[]): Promise<number> {
  const parsed = parsedArguments(args)
  const work = fs.mkdtempSync(path.join(os.tmpdir(), 'thud-'))
  const pool = createPool(path.dirname(fileURLToPath(import.meta.url)), parsed.workers)
  try {
    requireFile(parsed.file)
    const files = soundFiles(parsed.sounds)
    if (parsed.json && parsed.json !== '-') requirePlace(parsed.json)
    const report = await checkedFile(pool, parsed, files, work)
    if (parsed.json === '-') console.log(JSON.stringify(report, null, 2))
    else {
      if (parsed.json) writeReport(parsed.json, report)
      console.log(detectionTable(report, files.length))
    }
    return report.examined === 'whole' ? EXIT.done : EXIT.partlyExamined
  } catch (error) {
    if (error instanceof UsageError) throw error
    if (error instanceof MediaError) console.error(`${parsed.file}: ${error.message}`)
    else if (error instanceof InputError) console.error(error.message)
    else throw error
    return EXIT.badInput
  } finally {
    await pool.destroy()
    fs.rmSync(work, { recursive: true, force: true })
  }
}

async function checkedFile(
  pool: Pool,
  { file, workers, features, stage }: Arguments,
  files: readonly ListedFile[],
  work: string,
): Promise<CheckReport> {
  const indexMs = performance.now()
  const indexed = await indexSounds(pool, files, features ?? work, workers)
  const paths = indexed.map(({ featurePath }) => featurePath)
  const { groups } = await runTask<RecordingRelations>(pool, 'groupSounds', { paths } satisfies GroupTask)
  const indexS = (performance.now() - indexMs) / 1000
  const all = (stage ?? (indexed.length <= COPIES_MAX ? 'copies' : 'catalogue')) === 'copies'
  const shortlist = all ? indexed.map((_, index) => index) : []
  const media = await inspectWatched(pool, path.resolve(file))
  const outcomes = await listenToFile(pool, path.resolve(file), media, { featurePaths: paths, shortlist, groups })
  const nameOf = (index: number): string => indexed[index]?.name ?? ''
  for (const { result } of outcomes)
    for (const { index, reason } of result?.unreadable ?? [])
      console.error(messages.notListenedFor(nameOf(index), reason))
  return reportOf({ file, outcomes, nameOf, groups, indexS })
}

interface TrackOutcome {
  readonly track: FileInspection['tracks'][number]
  readonly result: ListeningResult | null
  readonly reason: string | null
}

/** Every audio track, one after the other. @throws {MediaError} when none of them could be listened to. */
async function listenToFile(
  pool: Pool,
  file: string,
  { tracks }: FileInspection,
  reference: ReferenceSet,
): Promise<TrackOutcome[]> {
  const outcomes: TrackOutcome[] = []
  let failure: MediaError | null = null
  for (const track of tracks) {
    try {
      outcomes.push({ track, result: await listen(pool, file, reference, { trackIndex: track.index }), reason: null })
    } catch (error) {
      if (!(error instanceof MediaError)) throw error
      failure ??= error
      outcomes.push({ track, result: null, reason: error.message })
    }
  }
  if (failure && outcomes.every(({ result }) => result === null)) throw failure
  return outcomes
}

function reportOf({
  file,
  outcomes,
  nameOf,
  groups,
  indexS,
}: {
  file: string
  outcomes: readonly TrackOutcome[]
  nameOf: (index: number) => string
  groups: readonly (readonly number[])[]
  indexS: number
}): CheckReport {
  const listened = outcomes.flatMap(({ result }) => result ?? [])
  const [first] = listened as [ListeningResult]
  const sum = (value: (result: ListeningResult) => number): number =>
    listened.reduce((total, result) => total + value(result), 0)
  const tracks = outcomes.map(({ track, result, reason }) => ({
    index: track.index,
    codec: track.codec,
    language: track.language,
    channelLayout: track.channelLayout,
    notListenedReason: reason,
    end: result?.track.end ?? null,
    missing: [...(result?.track.missing ?? [])],
    opposed: [...(result?.track.opposed ?? [])],
    partlyOpposed: [...(result?.track.partlyOpposed ?? [])],
    unexplained: [...(result?.breakdown.unexplained ?? [])],
    segments: [...(result?.breakdown.segments ?? [])],
  }))
  const whole = tracks.every(
    ({ end, missing, opposed, partlyOpposed }) =>
      end === 'whole' && missing.length + opposed.length + partlyOpposed.length === 0,
  )
  return {
    media: file,
    examined: whole ? 'whole' : 'partly',
    tracks,
    durationS: first.track.durationS,
    loudness: {
      integratedLufs: first.track.integratedLufs,
      truePeakDbtp: first.track.truePeakDbtp,
      rangeLu: first.track.loudnessRangeLu,
      shortTermMaxLufs: first.track.shortTermMaxLufs,
    },
    detections: outcomes.flatMap(({ track, result }) =>
      (result?.detections ?? []).map(({ soundIndex, alternatives, ...place }) => ({
        file: nameOf(soundIndex),
        track: track.index,
        ...place,
        certainty: certaintyOf(place.confidence),
        alternatives: alternatives.map(nameOf),
      })),
    ),
    groups: groups.map((group) => group.map(nameOf)),
    unexplained: [...first.breakdown.unexplained],
    segments: [...first.breakdown.segments],
    explainedFraction: first.breakdown.explainedFraction,
    sensitivity: first.sensitivity.map(({ index, fromDb, kind }) => ({ file: nameOf(index), fromDb, kind })),
    decoys: { listenedFor: first.decoyCount, heard: sum(({ decoyFinds }) => decoyFinds) },
    timing: { decodeS: sum(({ timing }) => timing.decodeS), indexS, searchS: sum(({ timing }) => timing.searchS) },
  }
}

function parsedArguments(args: readonly string[]): Arguments {
  try {
    const { values, positionals } = parseArgs({
      args: [...args],
      allowPositionals: true,
      options: {
        sounds: { type: 'string' },
        json: { type: 'string' },
        workers: { type: 'string' },
        features: { type: 'string' },
        stage: { type: 'string' },
      },
    })
    const [file, ...more] = positionals
    if (!file || more.length > 0) throw new UsageError(messages.nameOneFileListen)
    if (!values.sounds) throw new UsageError(messages.sayWhereSoundsAreSounds)
    const workers = values.workers === undefined ? os.availableParallelism() : Number(values.workers)
    if (!Number.isInteger(workers) || workers < 1 || workers > 64)
      throw new UsageError(messages.workersTakesWholeNumberFrom)
    const stage = STAGES.find((one) => one === values.stage) ?? null
    if (values.stage !== undefined && stage === null)
      throw new UsageError(messages.stageTakesNot(STAGES.join(' or '), values.stage))
    return {
      file,
      sounds: values.sounds,
      json: values.json ?? null,
      workers,
      features: values.features ? path.resolve(values.features) : null,
      stage,
    }
  } catch (error) {
    if (error instanceof UsageError) throw error
    throw new UsageError(error instanceof Error ? error.message : String(error))
  }
}

function requireFile(file: string): void {
  const stat = fs.statSync(file, { throwIfNoEntry: false })
  if (!stat) throw new InputError(messages.thereIsNoSuchFile(file))
  if (!stat.isFile()) throw new InputError(messages.thisIsNotAFile(file))
  if (stat.size === 0) throw new InputError(messages.theFileIsEmpty(file))
}

/** What could not be written in the end is said before anything is listened to. */
function requirePlace(out: string): void {
  const folder = path.dirname(path.resolve(out))
  try {
    fs.accessSync(folder, fs.constants.W_OK)
  } catch {
    throw new InputError(messages.resultCouldNotBeWritten(out, folder))
  }
}

function writeReport(out: string, report: CheckReport): void {
  const temporary = `${out}.part`
  try {
    fs.writeFileSync(temporary, `${JSON.stringify(report, null, 2)}\n`)
    fs.renameSync(temporary, out)
  } catch (error) {
    throw new InputError(`${out}: the result could not be written (${error instanceof Error ? error.message : ''}).`)
  }
}
