import { sql } from 'kysely'
import type { SourceWire } from '../../contract'
import type { Services } from '../context'
import type { SourceCounts } from '../database/count-sounds'
import { IS_LIVE } from '../rows/is-live'
import { WAS_NEVER_READ } from '../rows/never-read'
import { listMisfitLabels, type MisfitLabel } from '../terms/misfit-labels'

/** All sources with their counts and state. One that was removed before anything was read of it is gone, unless it is set up by whoever starts the application. */
export async function listSources({
  db,
  countSounds,
  accounts,
}: Pick<Services, 'db' | 'countSounds' | 'accounts'>): Promise<SourceWire[]> {
  const counts = await countSounds()
  const misfits = await listMisfitLabels(db)
  return (await selectSources(db))
    .map((row) => ({ ...row, isGiven: Object.hasOwn(accounts.given, row.id) }))
    .filter(({ removed_at, was_never_read, isGiven }) => removed_at === null || !was_never_read || isGiven)
    .map((row) => toWire(row, misfits, counts.get(row.id)))
}

function selectSources(db: Services['db']) {
  return db
    .selectFrom('sources')
    .selectAll()
    .select([IS_LIVE.as('is_live'), WAS_NEVER_READ.as('was_never_read')])
    .select((eb) => [
      eb
        .selectFrom('grants')
        // A cross join is made in this order: grants are few, and of sounds there may be a million.
        .crossJoin('sounds')
        .select(sql<number>`count(DISTINCT grants.copy_sha256)`.as('n'))
        .whereRef('sounds.id', '=', 'grants.sound_id')
        .whereRef('sounds.source_id', '=', 'sources.id')
        .as('copies'),
    ])
    .select((eb) => [
      eb.selectFrom('terms').select('title').whereRef('terms.id', '=', 'sources.default_terms_id').as('default_terms'),
      eb
        .selectFrom('sounds')
        .select(eb.fn.countAll<number>().as('n'))
        // Asked of own folders alone: a library's sounds have papers once they are acquired.
        .where('sources.kind', '!=', 'library')
        .whereRef('sounds.source_id', '=', 'sources.id')
        .where('withdrawn_at', 'is', null)
        .where((one) =>
          one.not(
            one.exists(
              one
                .selectFrom('active_grants')
                .select('active_grants.id')
                .whereRef('active_grants.sound_id', '=', 'sounds.id'),
            ),
          ),
        )
        .as('no_papers'),
    ])
    .where('sources.kind', 'in', ['library', 'folder', 'elsewhere'])
    .orderBy('name')
    .execute()
}

type SourceRow = Awaited<ReturnType<typeof selectSources>>[number] & { readonly isGiven: boolean }

function toWire(row: SourceRow, misfits: readonly MisfitLabel[], counts: SourceCounts | undefined): SourceWire {
  return {
    id: row.id,
    name: row.name,
    about: row.about,
    connected: row.connected === 1,
    // One that is set up by whoever starts the application, and was not tried, is an offer.
    mayBeRemoved: row.removed_at === null && !(row.isGiven && row.was_never_read && row.last_error === null),
    paused: row.paused_at !== null,
    address: row.address,
    live: row.is_live === 1,
    plan: row.plan,
    planFrom: row.plan_from,
    planUntil: row.plan_until,
    kind: row.kind as SourceWire['kind'],
    folderPath: row.folder_path,
    defaultTerms: row.default_terms,
    lastResult: row.last_result,
    noPapersCount: row.no_papers ?? 0,
    soundCount: counts?.sounds ?? 0,
    listenedCount: counts?.listened ?? 0,
    copyCount: row.copies ?? 0,
    lastSyncAt: row.last_sync_at,
    lastError: row.last_error,
    misfitLabels: misfits.filter(({ sourceId }) => sourceId === row.id).map(({ title }) => title),
  }
}
