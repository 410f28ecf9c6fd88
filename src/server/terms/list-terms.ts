import type { TermsSummary } from '../../contract'
import type { Services } from '../context'
import { countOffered } from './offered-counts'
import { isUnconfirmed } from './policy-key'

/** The newest version of all terms, with what stands under it. */
export async function listTerms({ db }: Pick<Services, 'db'>): Promise<TermsSummary[]> {
  const rows = await db
    .selectFrom('terms')
    .innerJoin('sources', 'sources.id', 'terms.source_id')
    .select(['terms.id', 'terms.title', 'terms.version', 'terms.key', 'terms.source_id', 'sources.name as sourceName'])
    .select((eb) => [
      eb
        .selectFrom('active_grants')
        .select(eb.fn.countAll<number>().as('n'))
        .whereRef('active_grants.terms_id', '=', 'terms.id')
        .as('copies'),
    ])
    .where('terms.key', '!=', 'unknown')
    .orderBy('terms.id')
    .execute()
  const offered = await countOffered(db)
  const series = new Map<string, TermsSummary>()
  for (const { id, title, version, key, source_id, sourceName, copies } of rows) {
    const name = `${source_id} ${key}`
    const before = series.get(name)
    series.set(name, {
      id,
      title,
      version,
      sourceName,
      isUnconfirmed: isUnconfirmed(key),
      versionCount: (before?.versionCount ?? 0) + 1,
      offeredCount: (before?.offeredCount ?? 0) + (offered.get(id) ?? 0),
      copyCount: (before?.copyCount ?? 0) + (copies ?? 0),
    })
  }
  return [...series.values()].sort((a, b) => a.sourceName.localeCompare(b.sourceName) || a.title.localeCompare(b.title))
}
