import type { CheckDetail } from '../../contract'
import { type Db, dayOf } from '../database/open'
import { IS_LIVE } from '../rows/is-live'

/** What libraries that are connected may have and nobody here knows of: what was not seen where one searches, and what came since the last sync where none succeeds. */
export async function listUnknownParts(db: Db): Promise<Pick<CheckDetail, 'searchedLive' | 'notSynced'>> {
  const rows = await db
    .selectFrom('sources')
    .select(['name', 'last_sync_at', 'last_error', IS_LIVE.as('is_live')])
    .where('kind', '=', 'library')
    .where('connected', '=', 1)
    .orderBy('name')
    .execute()
  return {
    searchedLive: rows.filter(({ is_live }) => is_live === 1).map(({ name }) => name),
    notSynced: rows.flatMap(({ name, last_sync_at, last_error, is_live }) =>
      is_live === 1 || last_error === null || last_sync_at === null ? [] : [{ name, since: dayOf(last_sync_at) }],
    ),
  }
}
