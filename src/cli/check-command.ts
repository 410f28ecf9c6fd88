import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import type { CheckReport } from '../contract'
import { certaintyOf } from '../core/hearing'
import { type ListeningResult, listen } from '../server/analysis/listen'
import { MediaError } from '../server/media/decoder'
import { createPool, type Pool, runTask } from '../server/workers/pool'
import type { GroupTask } from '../server/workers/tasks'
import { EXIT, InputError, UsageError } from './exit'
import { indexedSounds } from './feature-cache'
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
    const report = await checkedFile(pool, parsed, files, work)
    if (parsed.json === '-') console.log(JSON.stringify(report, null, 2))
    else {
      if (parsed.json) writeReport(parsed.json, report)
      console.log(detectionTable(report, files.length))
    }
    return EXIT.done
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
  const indexed = await indexedSounds(pool, files, features ?? work, workers)
  const paths = indexed.map(({ featurePath }) => featurePath)
  const groups = await runTask<number[][]>(pool, 'groupSounds', { paths } satisfies GroupTask)
  const indexS = (performance.now() - indexMs) / 1000
  const all = (stage ?? (indexed.length <= COPIES_MAX ? 'copies' : 'catalogue')) === 'copies'
  const shortlist = all ? indexed.map((_, index) => index) : []
  const result: ListeningResult = await listen(pool, path.resolve(file), { featurePaths: paths, shortlist, groups })
  const { track, timing } = result
  const nameOf = (index: number): string => indexed[index]?.name ?? ''
  for (const { index, reason } of result.unreadable) console.error(`${nameOf(index)}: not listened for. ${reason}`)
  return {
    media: file,
    durationS: track.durationS,
    loudness: {
      integratedLufs: track.integratedLufs,
      truePeakDbtp: track.truePeakDbtp,
      rangeLu: track.loudnessRangeLu,
      shortTermMaxLufs: track.shortTermMaxLufs,
    },
    detections: result.detections.map(({ soundIndex, alternatives, ...place }) => ({
      file: nameOf(soundIndex),
      ...place,
      certainty: certaintyOf(place.confidence),
      alternatives: alternatives.map(nameOf),
    })),
    groups: groups.map((group) => group.map(nameOf)),
    unexplained: [...result.breakdown.unexplained],
    segments: [...result.breakdown.segments],
    explainedFraction: result.breakdown.explainedFraction,
    sensitivity: result.sensitivity.map(({ index, fromDb }) => ({ file: nameOf(index), fromDb })),
    decoys: { listenedFor: result.decoyCount, heard: result.decoyFinds },
    timing: { decodeS: timing.decodeS, indexS, searchS: timing.searchS },
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
    if (!file || more.length > 0) throw new UsageError('Name one file to listen to.')
    if (!values.sounds) throw new UsageError('Say where the sounds are: --sounds FOLDER.')
    const workers = values.workers === undefined ? os.availableParallelism() : Number(values.workers)
    if (!Number.isInteger(workers) || workers < 1 || workers > 64)
      throw new UsageError('--workers takes a whole number from 1 to 64.')
    const stage = STAGES.find((one) => one === values.stage) ?? null
    if (values.stage !== undefined && stage === null)
      throw new UsageError(`--stage takes ${STAGES.join(' or ')}, not “${values.stage}”.`)
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
  if (!stat) throw new InputError(`${file}: there is no such file.`)
  if (!stat.isFile()) throw new InputError(`${file}: this is not a file.`)
  if (stat.size === 0) throw new InputError(`${file}: the file is empty.`)
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
