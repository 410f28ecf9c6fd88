import path from 'node:path'
import { parseArgs } from 'node:util'
import { commands as messages } from '../messages/server/commands'
import { backUp } from '../server/backup/backup'
import { BackupError } from '../server/backup/manifest'
import { restore } from '../server/backup/restore'
import { lockFolder } from '../server/database/folder-lock'
import { type Db, openDatabase } from '../server/database/open'
import { insertQueued } from '../server/jobs/jobs'
import { dataFolder, withData } from './data-folder'
import { EXIT, UsageError } from './exit'

/** `thud backup DIR`: saves the data, also while the application runs. @returns The exit status. @throws {UsageError} */
export async function backupCommand(args: readonly string[]): Promise<number> {
  const { folder, values } = parsed(
    args,
    { keep: { type: 'string' }, 'with-keys': { type: 'boolean' } },
    messages.sayWhereToBackupDir,
  )
  const keepCount = values.keep === undefined ? null : Number(values.keep)
  if (keepCount !== null && !(Number.isInteger(keepCount) && keepCount > 0))
    throw new UsageError(messages.keepTakesNumberBackupsSuch)
  const withKeys = values['with-keys'] !== undefined
  const dataDir = dataFolder(values.data)
  return withData(dataDir, () =>
    inWords(async () => {
      const { fileCount, bytes, newBytes } = await backUp({ dataDir, folder, keepCount, withKeys })
      console.log(messages.filesAndDatabaseAreSaved(fileCount, folder, megabytes(bytes), megabytes(newBytes)))
      console.log(withKeys ? messages.wasReadBackAndWhole : messages.wasReadBackAndWholeKeys)
    }),
  )
}

/** `thud restore DIR --data NEW`: makes a data folder from a backup. @returns The exit status. @throws {UsageError} */
export async function restoreCommand(args: readonly string[]): Promise<number> {
  const { folder, values } = parsed(args, { state: { type: 'string' } }, messages.sayWhereFromRestoreDir)
  const dataDir = dataFolder(values.data)
  return inWords(async () => {
    const manifest = await restore({ folder, dataDir, snapshot: values.state })
    // It is tried whether it opens, and brought to the schema of this version.
    const unlock = await lockFolder(dataDir)
    const db = await openDatabase(dataDir)
    await queueRemaking(db)
    await db.destroy()
    await unlock()
    console.log(messages.filesAndDatabaseAreIn(Object.keys(manifest.files).length, manifest.at, dataDir))
    if (manifest.missing.length > 0) console.log(messages.filesWereMissingAlreadyWhen(manifest.missing.length))
  })
}

/** Analysis of each sound is not in a backup: it is made again when the application runs. */
async function queueRemaking(db: Db): Promise<void> {
  const rows = await db.selectFrom('analyses').select('audio_sha256').distinct().execute()
  for (const { audio_sha256: subject } of rows)
    await insertQueued(db, { kind: 'remake', subject, title: messages.makingAgainWhatHearingNeeds })
}

async function inWords(work: () => Promise<void>): Promise<number> {
  try {
    await work()
    return EXIT.done
  } catch (error) {
    if (!(error instanceof BackupError)) throw error
    console.error(error.message)
    return EXIT.badInput
  }
}

function megabytes(bytes: number): string {
  return `${Math.ceil(bytes / 1e6)} MB`
}

function parsed(
  args: readonly string[],
  own: Readonly<Record<string, { type: 'string' | 'boolean' }>>,
  usage: string,
): { folder: string; values: { [name: string]: string | undefined } } {
  try {
    const { values, positionals } = parseArgs({
      args: [...args],
      allowPositionals: true,
      options: { data: { type: 'string' }, ...own },
    })
    const [folder, ...more] = positionals
    if (folder === undefined || more.length > 0) throw new UsageError(usage)
    return { folder: path.resolve(folder), values: values as { [name: string]: string | undefined } }
  } catch (error) {
    throw error instanceof UsageError ? error : new UsageError((error as Error).message)
  }
}
