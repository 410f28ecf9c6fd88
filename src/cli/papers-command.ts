import fs from 'node:fs'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { parseArgs } from 'node:util'
import { commands as messages } from '../messages/server/commands'
import { todayIso } from '../server/database/db'
import { EXPORT_FORMATS, type ExportFormat, exportPapers } from '../server/papers/export-papers'
import { dataFolder, withData } from './data-folder'
import { EXIT, UsageError } from './exit'

/** `thud papers export`: all papers as CSV, JSON or ODRL. @returns The exit status. @throws {UsageError} */
export async function papersCommand(args: readonly string[]): Promise<number> {
  const { format, out, dataDir } = parsed(args)
  return withData(dataDir, async (db) => {
    const { pieces } = await exportPapers({ db }, format, todayIso())
    if (out === '-') {
      for await (const piece of pieces) process.stdout.write(piece)
      return EXIT.done
    }
    const unfinished = `${out}.part`
    try {
      await pipeline(Readable.from(pieces), fs.createWriteStream(unfinished))
      fs.renameSync(unfinished, out)
    } catch (error) {
      fs.rmSync(unfinished, { force: true })
      console.error(
        `${out} cannot be written (${(error as NodeJS.ErrnoException).code}). Name another file with --out.`,
      )
      return EXIT.badInput
    }
    console.log(messages.writtenTo(out))
    return EXIT.done
  })
}

function parsed(args: readonly string[]): { format: ExportFormat; out: string; dataDir: string } {
  try {
    const { values, positionals } = parseArgs({
      args: [...args],
      allowPositionals: true,
      options: {
        data: { type: 'string' },
        format: { type: 'string', default: 'csv' },
        out: { type: 'string', default: '-' },
      },
    })
    if (positionals.length !== 1 || positionals[0] !== 'export') throw new UsageError(messages.sayWhatDoPapersExport)
    const format = EXPORT_FORMATS.find((one) => one === values.format)
    if (!format) throw new UsageError(messages.formatTakes(EXPORT_FORMATS.join(', ')))
    return { format, out: values.out, dataDir: dataFolder(values.data) }
  } catch (error) {
    throw error instanceof UsageError ? error : new UsageError((error as Error).message)
  }
}
