import type { SavedSearch, SavedSearchInput } from '../../contract'
import type { Sort } from '../../core/finding'
import type { Services } from '../context'
import { nowIso } from '../database/open'

export async function listSavedSearches({ db }: Pick<Services, 'db'>): Promise<SavedSearch[]> {
  const rows = await db.selectFrom('saved_searches').selectAll().orderBy('name').execute()
  return rows.map(({ id, name, query, sort }) => ({ id, name, query, sort: sort as Sort }))
}

/** Saves a search; one of the same name is replaced. */
export async function saveSearch({ db }: Pick<Services, 'db'>, { name, query, sort }: SavedSearchInput): Promise<void> {
  await db
    .insertInto('saved_searches')
    .values({ name, query, sort, at: nowIso() })
    .onConflict((conflict) => conflict.column('name').doUpdateSet({ query, sort }))
    .execute()
}

export async function forgetSearch({ db }: Pick<Services, 'db'>, id: number): Promise<void> {
  await db.deleteFrom('saved_searches').where('id', '=', id).execute()
}
