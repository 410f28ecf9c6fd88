import { stringify } from 'csv-stringify/sync'
import type { PapersRow } from '../../contract'
import { stateInWords } from '../../core/clearance'
import { CLAUSE_WORDS, USE_PLACE_WORDS, USE_PLACES } from '../../core/rights'
import { papers as messages } from '../../messages/server/papers'
import { listVideosWithStates } from '../clearance/video-states'
import type { Services } from '../context'
import { type LedgerHead, ledgerHead } from '../ledger/ledger'
import { odrlOfPapers } from './export-odrl'
import type { ExportedFile } from './exported-file'
import { papersInBatches } from './papers-list'

export const EXPORT_FORMATS = ['csv', 'json', 'odrl'] as const
export type ExportFormat = (typeof EXPORT_FORMATS)[number]

/** All papers in an open format, with the head of the ledger as it stood. */
export async function exportPapers(
  { db }: Pick<Services, 'db'>,
  format: ExportFormat,
  today: string,
): Promise<ExportedFile> {
  const head = await ledgerHead(db)
  const fileName = `papers ${today}`
  switch (format) {
    case 'csv':
      return {
        mime: 'text/csv; charset=utf-8',
        // A table has no place for it but its name.
        fileName: `${fileName} ledger ${head.number} ${head.hash.slice(0, 12)}.csv`,
        pieces: csvPieces(db, today),
      }
    case 'json':
      return { mime: 'application/json', fileName: `${fileName}.json`, pieces: jsonPieces(db, { today, head }) }
    case 'odrl':
      return {
        mime: 'application/ld+json',
        fileName: `${fileName}.odrl.jsonld`,
        pieces: odrlOfPapers(db, { today, head }),
      }
  }
}

async function* csvPieces(db: Services['db'], today: string): AsyncGenerator<string> {
  yield csvOf([])
  for await (const batch of papersInBatches({ db }, today))
    yield csvOf(
      batch.map(({ row }) => row),
      { head: false },
    )
}

async function* jsonPieces(
  db: Services['db'],
  { today, head }: { readonly today: string; readonly head: LedgerHead },
): AsyncGenerator<string> {
  const frame = { format: 'good-thud-papers', version: 2, asOf: today, ledgerHead: head }
  yield `${JSON.stringify(frame).slice(0, -1)},"papers":[`
  let isFirst = true
  for await (const batch of papersInBatches({ db }, today)) {
    yield batch.map(({ row }, index) => `${isFirst && index === 0 ? '' : ','}\n${JSON.stringify(row)}`).join('')
    isFirst = false
  }
  const videos = await listVideosWithStates(db, today)
  yield `\n],"videos":${JSON.stringify(videos.map((one) => ({ ...one, stateInWords: stateInWords(one.state) })))}}\n`
}

/** A row a copy. Cells that a table program could take for a formula are made plain text. */
export function csvOf(rows: readonly PapersRow[], { head = true } = {}): string {
  const uses = [...USE_PLACES.map((place) => USE_PLACE_WORDS[place]), CLAUSE_WORDS.earning]
  const lines = rows.map((row) => [
    row.title,
    row.maker,
    row.sourceName,
    row.grantTitle || messages.noPapers,
    row.termsTitle,
    row.termsVersion,
    row.acquiredAt ?? '',
    row.expiresOn ?? '',
    row.paid ?? '',
    row.creditLine ?? '',
    row.declared ? `${row.declared.by}, ${row.declared.on}` : '',
    row.evidence.map(({ fileName }) => fileName).join('; '),
    row.videoTitles.join('; '),
    ...row.marks,
  ])
  const names = [
    messages.title,
    messages.maker,
    messages.source,
    messages.papers,
    messages.terms,
    messages.version,
    messages.acquired,
    messages.expires,
    messages.paid,
    messages.credit,
    messages.onTheWordOf,
    messages.evidence,
    messages.videos,
  ]
  const table = head ? [[...names, ...uses], ...lines] : lines
  return stringify(table, { escape_formulas: true, bom: head, record_delimiter: '\r\n' })
}
