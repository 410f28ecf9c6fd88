import { type LicenceReading, READING_VERSION } from '../../core/rights'
import { type Db, nowIso } from '../database/db'
import { sha256Of } from '../ledger/ledger'
import { type ReadText, readingOrOpen } from '../terms/read-text'

/** A text as it was read once; one that could not be read stays open. */
export interface ReadNote {
  readonly text: string
  readonly reading: LicenceReading
}

/** Reads a text that lies beside files. */
export async function readNote(text: string, readText: ReadText): Promise<ReadNote> {
  return { text, reading: await readingOrOpen(text, readText) }
}

/** Proposes a text as papers when it speaks of rights at all. The same text is proposed once. */
export async function storeNote(db: Db, sourceId: string, where: string, { text, reading }: ReadNote): Promise<void> {
  if (!speaksOfRights(reading)) return
  await db
    .insertInto('papers_proposals')
    .values({
      source_id: sourceId,
      path: where,
      text,
      sha256: sha256Of(text),
      reading_json: JSON.stringify({ version: READING_VERSION, ...reading }),
      state: 'open',
      at: nowIso(),
    })
    .onConflict((conflict) => conflict.doNothing())
    .execute()
}

/** Whether a text names or states anything on rights, or says something on them that was not understood. */
function speaksOfRights({ licences, like, clauses, open }: LicenceReading): boolean {
  const isOpen = open.some(
    ({ quote, keys }) => keys.length > 0 || /licen[cs]e|rights|copyright|©|permission|terms/i.test(quote),
  )
  return licences.length > 0 || like !== null || clauses.length > 0 || isOpen
}
