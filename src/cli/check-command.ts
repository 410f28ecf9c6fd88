import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import type { CheckReport } from '../contract'
import { type ListeningResult, listen } from '../server/listening/listen'
import { MediaError } from '../server/media/decoder'
import { createPool, type Pool, runTask, TaskError } from '../server/workers/pool'
import type { SoundAnalysis } from '../server/workers/tasks'
import { EXIT, InputError, UsageError } from './exit'
import { type ListedFile, soundFiles } from './sound-files'
import { detectionTable } from './table'

interface Arguments {
  readonly file: string
  readonly sounds: string
  readonly json: string | null
  readonly workers: number
}

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
  { file, workers }: Arguments,
  files: readonly ListedFile[],
  work: string,
): Promise<CheckReport> {
  const indexMs = performance.now()
  const indexed = await indexedSounds(pool, files, work, workers)
  const indexS = (performance.now() - indexMs) / 1000
  const paths = indexed.map(({ featurePath }) => featurePath)
  const result: ListeningResult = await listen(pool, path.resolve(file), paths)
  const { track, timing } = result
  return {
    media: file,
    durationS: track.durationS,
    loudness: { integratedLufs: track.integratedLufs, truePeakDbtp: track.truePeakDbtp },
    detections: result.detections.map(({ soundIndex, ...place }) => ({
      file: indexed[soundIndex]?.name ?? '',
      ...place,
    })),
    timing: { decodeS: timing.decodeS, indexS, searchS: timing.searchS },
  }
}

/** Decodes every sound; one that cannot be decoded is named and left out. */
async function indexedSounds(
  pool: Pool,
  files: readonly ListedFile[],
  work: string,
  workers: number,
): Promise<{ name: string; featurePath: string }[]> {
  const results: ({ name: string; featurePath: string } | null)[] = files.map(() => null)
  const queue = files.map((file, index) => ({ file, index }))
  const lane = async (): Promise<void> => {
    for (let next = queue.shift(); next; next = queue.shift()) {
      const { file, index } = next
      const featurePath = path.join(work, `${index}.f32`)
      try {
        await runTask<SoundAnalysis>(pool, 'analyseSound', { path: file.path, featurePath })
        results[index] = { name: file.name, featurePath }
      } catch (error) {
        if (!(error instanceof MediaError) && !(error instanceof TaskError)) throw error
        console.error(`${file.name}: left out. ${error.message}`)
      }
    }
  }
  await Promise.all(Array.from({ length: workers }, lane))
  const usable = results.filter((result) => result !== null)
  if (usable.length === 0) throw new InputError('None of the sounds could be decoded.')
  return usable
}

function parsedArguments(args: readonly string[]): Arguments {
  try {
    const { values, positionals } = parseArgs({
      args: [...args],
      allowPositionals: true,
      options: { sounds: { type: 'string' }, json: { type: 'string' }, workers: { type: 'string' } },
    })
    const [file, ...more] = positionals
    if (!file || more.length > 0) throw new UsageError('Name one file to listen to.')
    if (!values.sounds) throw new UsageError('Say where the sounds are: --sounds FOLDER.')
    const workers = values.workers === undefined ? os.availableParallelism() : Number(values.workers)
    if (!Number.isInteger(workers) || workers < 1 || workers > 64)
      throw new UsageError('--workers takes a whole number from 1 to 64.')
    return { file, sounds: values.sounds, json: values.json ?? null, workers }
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
