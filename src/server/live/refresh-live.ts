import { live as messages } from '../../messages/server/live'
import type { Services } from '../context'
import { nowIso } from '../database/db'
import type { JobContext } from '../jobs/jobs'
import { type Connector, SourceError } from '../ports/connector'
import { storeServedTerms } from '../sources/apply-catalogue'
import { notePlan, termsInUse } from '../sources/mirror'
import { fetchHeldTerms } from '../sources/served-terms'

/**
 * Connects a library that is searched and not mirrored, or looks again at its account and at the terms of what was seen of it.
 *
 * @returns What it is now, in words.
 */
export async function refreshLive(services: Services, connector: Connector, { signal }: JobContext): Promise<string> {
  const { db, readText } = services
  try {
    const account = await connector.account(signal)
    for (const key of await termsInUse(db, connector.id)) {
      const held = await fetchHeldTerms(connector, key, readText, signal)
      await storeServedTerms(db, connector.id, new Map([[key, held]]))
    }
    const result = messages.accountAndTermsReadSearched
    await db.transaction().execute(async (trx) => {
      await notePlan(trx, connector.id, account)
      await trx
        .updateTable('sources')
        .set({ last_sync_at: nowIso(), last_error: null, connected: 1, removed_at: null, last_result: result })
        .where('id', '=', connector.id)
        .execute()
    })
    return result
  } catch (error) {
    if (error instanceof SourceError)
      await db.updateTable('sources').set({ last_error: error.message }).where('id', '=', connector.id).execute()
    throw error
  }
}
