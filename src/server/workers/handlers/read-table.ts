import fs from 'node:fs'
import { parse } from 'csv-parse/sync'
import readXlsxFile from 'read-excel-file/node'
import { soundTable, type TableFacts } from '../../../core/formats/sound-table'
import type { ReadTableTask, TaskResult } from '../tasks'
import { asTaskResult } from './task-result'

const MAX_ROWS = 200_000

/** What a table that lies beside sounds says of them, by the names of their files. */
export function readSoundTable({ path }: ReadTableTask): Promise<TaskResult<ReadonlyMap<string, TableFacts>>> {
  return asTaskResult(async () => soundTable((await rowsOf(path)).slice(0, MAX_ROWS)))
}

const HEAD_BYTES = 64 * 1024
const DELIMITERS = [',', ';', '\t']

/** What parts the names of the columns: programs write CSV by the language that they run in. */
function delimiterOf(text: string): string {
  const [head = ''] = text.split(/\r?\n/, 1)
  const count = (delimiter: string): number => head.split(delimiter).length
  return DELIMITERS.reduce((best, one) => (count(one) > count(best) ? one : best))
}

async function rowsOf(path: string): Promise<string[][]> {
  if (/\.xlsx$/i.test(path)) {
    const [sheet] = await readXlsxFile(path)
    return (sheet?.data ?? []).map((row) => row.map((cell) => (cell === null ? '' : String(cell))))
  }
  const bytes = fs.readFileSync(path)
  return parse(bytes, {
    bom: true,
    delimiter: delimiterOf(bytes.subarray(0, HEAD_BYTES).toString('utf8')),
    relax_column_count: true,
    relax_quotes: true,
    skip_empty_lines: true,
    max_record_size: 100_000,
  })
}
