import { randomUUID } from 'node:crypto'
import fs from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import { addedWithLayers } from '../core/score'
import { commands as messages } from '../messages/server/commands'
import { type Db, nowIso } from '../server/database/db'
import { DomainError } from '../server/domain-error'
import { namePart } from '../server/files/file-name'
import { FileStore } from '../server/files/store'
import { findScoreRow } from '../server/rows/score-rows'
import { loadCueSheet } from '../server/score/cue-sheet'
import { readScoreList } from '../server/score/import-list'
import { makeMixFiles } from '../server/score/mix-files'
import { changeScore } from '../server/score/score'
import { loadScoreList, SCORE_LIST_FORMATS } from '../server/score/score-list'
import { createPool } from '../server/workers/pool'
import { dataFolder, withData } from './data-folder'
import { EXIT, InputError, UsageError } from './exit'

const EXPORT_FORMATS = [...SCORE_LIST_FORMATS, 'csv'] as const

interface Video {
  readonly id: number
  readonly title: string
}

/** `thud mix VIDEO --out DIR [--stems] [--flac] [--video]`: writes what is placed in a video into files. @returns The exit status. @throws {UsageError} */
export async function mixCommand(args: readonly string[]): Promise<number> {
  const { positionals, values } = parsed(args, {
    out: { type: 'string' },
    stems: { type: 'boolean', default: false },
    flac: { type: 'boolean', default: false },
    video: { type: 'boolean', default: false },
  })
  const [named] = positionals
  const out = values.out as string | undefined
  if (positionals.length !== 1 || !named || !out) throw new UsageError(messages.thudMixTakesVideoAnd)
  const dataDir = dataFolder(values.data as string | undefined)
  return withData(dataDir, (db) =>
    inWords(async () => {
      const video = await findVideo(db, named)
      const { document } = await findScoreRow(db, video.id)
      if (document.placements.length === 0) throw new InputError(messages.nothingIsPlacedIn(video.title))
      const work = newFolder(out)
      const pool = createPool(path.dirname(fileURLToPath(import.meta.url)))
      try {
        const { outputs, silent, result } = await makeMixFiles(
          { db, pool, store: new FileStore(dataDir) },
          {
            videoId: video.id,
            title: video.title,
            score: document,
            withStems: values.stems === true,
            format: values.flac === true ? 'flac' : 'wav',
            withVideo: values.video === true,
            writtenAt: nowIso(),
            newPath: (ending) => path.join(work, `${randomUUID()}.${ending}`),
            context: { signal: new AbortController().signal, report: () => {} },
          },
        )
        for (const { name, path: made } of outputs) fs.renameSync(made, path.join(out, namePart(name)))
        for (const { name } of outputs) console.log(path.join(out, namePart(name)))
        for (const title of silent) console.error(messages.leftOutAudioNotHere(title))
        const { lengthS, integratedLufs, truePeakDbtp } = result
        console.log(messages.sTruePeak(lengthS.toFixed(1), words(integratedLufs, 'LUFS'), words(truePeakDbtp, 'dBTP')))
        return silent.length === 0 ? EXIT.done : EXIT.partlyExamined
      } finally {
        await pool.destroy()
        fs.rmSync(work, { recursive: true, force: true })
      }
    }),
  )
}

/** `thud score export|import VIDEO`: what is placed as a list, and from one. @returns The exit status. @throws {UsageError} */
export async function scoreCommand(args: readonly string[]): Promise<number> {
  const { positionals, values } = parsed(args, {
    format: { type: 'string', default: 'otio' },
    out: { type: 'string', default: '-' },
  })
  const [what, named, file] = positionals
  const dataDir = dataFolder(values.data as string | undefined)
  if (what === 'export' && named && positionals.length === 2) {
    const format = EXPORT_FORMATS.find((one) => one === values.format)
    if (!format) throw new UsageError(messages.formatTakes(EXPORT_FORMATS.join(', ')))
    return withData(dataDir, (db) =>
      inWords(() => exportScore({ db, store: new FileStore(dataDir) }, named, format, values.out as string)),
    )
  }
  if (what === 'import' && named && file && positionals.length === 3)
    return withData(dataDir, (db) => inWords(() => importScore({ db, store: new FileStore(dataDir) }, named, file)))
  throw new UsageError(messages.sayWhatDoScoreExport)
}

interface Data {
  readonly db: Db
  readonly store: FileStore
}

async function exportScore(
  data: Data,
  named: string,
  format: (typeof EXPORT_FORMATS)[number],
  out: string,
): Promise<number> {
  const { id } = await findVideo(data.db, named)
  const { text } = format === 'csv' ? await loadCueSheet(data, id) : await loadScoreList(data, id, format)
  if (out === '-') process.stdout.write(text)
  else {
    try {
      fs.writeFileSync(`${out}.part`, text)
      fs.renameSync(`${out}.part`, out)
    } catch (error) {
      throw new InputError(
        `${out} cannot be written (${(error as NodeJS.ErrnoException).code}). Name another file with --out.`,
      )
    }
    console.log(messages.writtenTo(out))
  }
  return EXIT.done
}

/** Adds what a list places; what could not be matched is named, and nothing that was placed is changed. */
async function importScore(data: Data, named: string, file: string): Promise<number> {
  const { id, title } = await findVideo(data.db, named)
  let text: string
  try {
    text = fs.readFileSync(file, 'utf8')
  } catch (error) {
    throw new InputError(`${file} cannot be read (${(error as NodeJS.ErrnoException).code}).`)
  }
  const { layers, placements, unmatched, leftOut } = await readScoreList(data, id, { text })
  if (placements.length > 0) {
    const { revision, document } = await findScoreRow(data.db, id)
    const { outcome } = await changeScore(data, id, {
      revision,
      edits: [addedWithLayers(document, layers, placements)],
    })
    if (outcome !== 'saved') throw new InputError(messages.whatPlacedWasChangedMeanwhile)
  }
  console.log(`${title}: ${placements.length} placed.`)
  for (const { name, startS } of unmatched) console.error(messages.atSNoSoundHere(name, startS.toFixed(2)))
  for (const line of leftOut) console.error(messages.leftOut2(line))
  return unmatched.length === 0 ? EXIT.done : EXIT.partlyExamined
}

/** A video by its number, or by its title where one alone has it. */
async function findVideo(db: Db, named: string): Promise<Video> {
  const videos = await db.selectFrom('videos').select(['id', 'title']).where('removed_at', 'is', null).execute()
  const found = videos.filter(({ id, title }) => String(id) === named || title.toLowerCase() === named.toLowerCase())
  const [video] = found
  if (!video) throw new InputError(messages.thereNoVideoThudVideos(named))
  if (found.length > 1)
    throw new InputError(messages.severalVideosAreCalledName(named, found.map(({ id }) => id).join(', ')))
  return video
}

/** A folder for what is being made, within the one that it goes to. @throws {InputError} where nothing can be written. */
function newFolder(out: string): string {
  try {
    fs.mkdirSync(out, { recursive: true })
    return fs.mkdtempSync(path.join(out, '.making-'))
  } catch (error) {
    throw new InputError(
      `${out} cannot be written (${(error as NodeJS.ErrnoException).code}). Name another folder with --out.`,
    )
  }
}

function words(value: number | null, unit: string): string {
  return value === null ? 'silent' : `${value.toFixed(1)} ${unit}`
}

/** What was to be expected ends with one line. */
async function inWords(work: () => Promise<number>): Promise<number> {
  try {
    return await work()
  } catch (error) {
    if (error instanceof InputError) console.error(error.message)
    else if (error instanceof DomainError) console.error(error.detail)
    else throw error
    return EXIT.badInput
  }
}

type Options = NonNullable<NonNullable<Parameters<typeof parseArgs>[0]>['options']>

interface Parsed {
  readonly positionals: readonly string[]
  readonly values: Readonly<Record<string, unknown>>
}

function parsed(args: readonly string[], options: Options): Parsed {
  try {
    return parseArgs({ args: [...args], allowPositionals: true, options: { data: { type: 'string' }, ...options } })
  } catch (error) {
    throw new UsageError((error as Error).message)
  }
}
