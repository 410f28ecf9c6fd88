import { type LicenceReading, READING_VERSION } from '../../core/rights'
import { type Db, nowIso } from '../database/db'
import { sha256Of } from '../ledger/ledger'
import { licenceReading } from '../terms/licence-texts'

/** Proposes a text as papers when it speaks of rights at all. The same text is proposed once. */
export async function noteText(db: Db, sourceId: string, where: string, text: string): Promise<void> {
  const reading = licenceReading(text)
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
