import type { SelectQueryBuilder } from 'kysely'
import { sources as messages } from '../../messages/server/sources'
import { CATALOGUE_SHARE, groupRecordings, listenToNew } from '../analysis/listen-to-sounds'
import { clearStage, countSeen, stagedPages, stagePage } from '../catalogue/catalogue-stage'
import type { Services } from '../context'
import { type Db, nowIso } from '../database/open'
import type { Schema } from '../database/schema'
import type { JobContext } from '../jobs/jobs'
import { appendToLedger } from '../ledger/ledger'
import { type Account, type CatalogueSound, type Connector, cataloguePages, SourceError } from '../ports/connector'
import type { HeldTerms } from '../terms/held-to-text'
import { applyCatalogueDelta, type CatalogueDelta, type Counted, IN_THREAD_FROM } from './apply-catalogue'
import { betweenPieces, type CatalogueServices, workInThread } from './catalogue-thread'
import { fetchHeldTerms } from './served-terms'

/**
 * Mirrors one library: its account, terms and catalogue, then listens to every sound that is new.
 *
 * Pages are put down as they come and taken over piece by piece after the last; new sounds are seen all at once, when every piece is there. A
 * library that fails half way changes nothing, and the next sync goes on from there. A library that can tell what changed is asked only for that.
 */
export async function mirrorSource(services: Services, sourceId: string, context: JobContext): Promise<string> {
  const connector = services.connector(sourceId)
  try {
    const counted = await mirrorCatalogue(services, connector, context)
    const listened = await listenToNew(services, connector, context)
    if (listened > 0) await groupRecordings(services, context.signal)
    const result = messages.newlyListenedTo(inWords(counted), listened)
    await services.db
      .updateTable('sources')
      .set({ last_sync_at: nowIso(), last_error: null, connected: 1, removed_at: null, last_result: result })
      .where('id', '=', sourceId)
      .execute()
    return result
  } catch (error) {
    if (error instanceof SourceError)
      await services.db.updateTable('sources').set({ last_error: error.message }).where('id', '=', sourceId).execute()
    throw error
  }
}

function inWords({ total, fresh, changed, gone }: Counted): string {
  return messages.soundsInCatalogueNewChanged(total, fresh, changed, gone)
}

async function mirrorCatalogue(services: Services, connector: Connector, context: JobContext): Promise<Counted> {
  const { signal } = context
  const account = await connector.account(signal)
  const delta = await fetchCatalogueDelta(services, connector, context)
  const served = await fetchTerms(services, connector, delta, signal)
  const counted = await applyCatalogueDelta(services, connector, { delta, served, context })
  await services.db.transaction().execute(async (trx) => {
    await trx
      .updateTable('sources')
      .set({ change_mark: delta.mark, shrunk_to: null, ...(delta.goneIds === null ? { whole_at: nowIso() } : {}) })
      .where('id', '=', connector.id)
      .execute()
    await notePlan(trx, connector.id, account)
  })
  await forgetStage(services, connector.id, context, delta.stagedCount)
  return counted
}

/** What a sync takes over: by the change feed of a library that tells everything, else its whole catalogue. */
export async function fetchCatalogueDelta(
  services: CatalogueServices,
  connector: Connector,
  context: JobContext,
): Promise<CatalogueDelta> {
  const { db } = services
  const { signal } = context
  const source = await db
    .selectFrom('sources')
    .select(['change_mark', 'connected', 'whole_at'])
    .where('id', '=', connector.id)
    .executeTakeFirstOrThrow()
  const recent = source.whole_at !== null && Date.now() - Date.parse(source.whole_at) < WHOLE_EVERY_MS
  // A feed that tells of removals alone says nothing of new sounds: then the catalogue is read whole each time.
  if (
    connector.changes &&
    connector.changesTell === 'everything' &&
    source.change_mark !== null &&
    source.connected === 1 &&
    recent
  ) {
    const { changed, goneIds, mark } = await connector.changes(source.change_mark, signal)
    const pages = async function* () {
      yield changed
    }
    return { pages, stagedCount: 0, keys: keysOf(changed), goneIds, mark }
  }
  // The mark is taken before the reading, so that nothing that changes meanwhile is missed.
  const mark = (await connector.changes?.(null, signal))?.mark ?? null
  const { count, keys } = await readCatalogue(services, connector, context)
  await requirePlausible(services, connector, count, context)
  return { pages: () => stagedPages(db, connector.id), stagedCount: count, keys, goneIds: null, mark }
}

/** A catalogue whose changes are told is still read whole this often, ms. */
const WHOLE_EVERY_MS = 7 * 24 * 3600 * 1000

/** More of one library is taken for an endless catalogue. */
const MAX_SOUNDS = 2_000_000
const MAX_TERMS = 500
/** A stage older than this is not gone on with, ms. */
const STAGE_MAX_AGE_MS = 6 * 3600 * 1000

/** Reads all pages into the stage, going on after those that an earlier try put down. */
async function readCatalogue(
  services: CatalogueServices,
  connector: Connector,
  context: JobContext,
): Promise<{ count: number; keys: Set<string> }> {
  const { db, checkpoints } = services
  const { signal, report } = context
  const last = await db
    .selectFrom('catalogue_stage')
    .select(['position', 'total', 'next', 'read_at'])
    .where('source_id', '=', connector.id)
    .orderBy('position', 'desc')
    .executeTakeFirst()
  const fresh = last !== undefined && Date.now() - Date.parse(last.read_at) < STAGE_MAX_AGE_MS
  let position = fresh ? last.position : 0
  let total = fresh ? last.total : null
  if (!fresh) await forgetStage(services, connector.id, context, last === undefined ? 0 : MAX_SOUNDS)
  const keys = new Set<string>()
  if (fresh) for await (const page of stagedPages(db, connector.id)) for (const key of keysOf(page)) keys.add(key)
  let count = await countSeen(db, connector.id)
  if (fresh && last.next === null) return { count, keys }
  for await (const page of cataloguePages(connector, signal, fresh ? last.next : null)) {
    if (total !== null && page.total !== total) {
      // It changed while it was read: places of pages no longer fit together.
      await forgetStage(services, connector.id, context, count)
      throw new SourceError('busy', messages.catalogueChangedWhileWasRead(connector.name))
    }
    total = page.total
    position++
    for (const key of keysOf(page.sounds)) keys.add(key)
    if (keys.size > MAX_TERMS)
      throw new SourceError('nonsense', messages.namesMoreThanTermsNothing(connector.name, MAX_TERMS))
    count += await stagePage(db, connector.id, { page, position })
    await checkpoints.catchUp()
    if (count > MAX_SOUNDS)
      throw new SourceError('too-large', messages.listsMoreThanSoundsNothing(connector.name, MAX_SOUNDS))
    report(CATALOGUE_SHARE / 2, messages.readingTheCatalogueSounds(count))
  }
  return { count, keys }
}

/** @param count Of the sounds that lie in it, as far as is known: of many it is emptied by a thread. */
async function forgetStage(
  services: CatalogueServices,
  sourceId: string,
  context: JobContext,
  count: number,
): Promise<void> {
  if (count > IN_THREAD_FROM)
    await workInThread<number>(services, sourceId, { kind: 'clear' }, { signal: context.signal })
  else await clearStage(services.db, sourceId, betweenPieces(services, context))
}

function keysOf(sounds: readonly CatalogueSound[]): Set<string> {
  return new Set(sounds.flatMap(({ termsKey, tiers }) => [termsKey, ...tiers.map((tier) => tier.termsKey)]))
}

/** A catalogue smaller than this is not looked at for having shrunk. */
const SHRINK_FROM = 10
const SHRINK_SHARE = 0.5

/** A catalogue that lost more than half is not believed the first time: an empty answer must not empty the search. */
async function requirePlausible(
  services: CatalogueServices,
  connector: Connector,
  count: number,
  context: JobContext,
): Promise<void> {
  const { db } = services
  const present = (await services.countSounds('now')).get(connector.id)?.sounds ?? 0
  if (present < SHRINK_FROM || count >= present * SHRINK_SHARE) return
  const source = await db.selectFrom('sources').select('shrunk_to').where('id', '=', connector.id).executeTakeFirst()
  if (source?.shrunk_to === count) return
  await db.updateTable('sources').set({ shrunk_to: count }).where('id', '=', connector.id).execute()
  await forgetStage(services, connector.id, context, count)
  throw new SourceError('nonsense', messages.listsOnlySoundsWhereThere(connector.name, count, present))
}

/** Terms of all sounds that are taken over; on a sync of changes, of all that are in use. */
async function fetchTerms(
  { db, readText }: Services,
  connector: Connector,
  { keys: wanted, goneIds }: CatalogueDelta,
  signal: AbortSignal,
): Promise<Map<string, HeldTerms>> {
  const keys = new Set(wanted)
  if (goneIds !== null) for (const key of await termsInUse(db, connector.id)) keys.add(key)
  const served = new Map<string, HeldTerms>()
  for (const key of keys) {
    served.set(key, await fetchHeldTerms(connector, key, readText, signal))
  }
  return served
}

/** Terms that some sound of a source is offered under: a look into an index for each, and not at every sound. */
export function termsInUseQuery(db: Db, sourceId: string): SelectQueryBuilder<Schema, 'terms', { key: string }> {
  return db
    .selectFrom('terms')
    .select('key')
    .distinct()
    .where('source_id', '=', sourceId)
    .where(({ exists, selectFrom }) =>
      exists(
        selectFrom('sounds')
          .select('sounds.id')
          .where('sounds.source_id', '=', sourceId)
          .whereRef('sounds.terms_id', '=', 'terms.id')
          .where('sounds.withdrawn_at', 'is', null),
      ),
    )
}

/** @returns Their keys. */
export async function termsInUse(db: Db, sourceId: string): Promise<string[]> {
  return (await termsInUseQuery(db, sourceId).execute()).map(({ key }) => key)
}

/** Writes the plan down; a period that is not the one on file is an event of its own. */
export async function notePlan(trx: Db, sourceId: string, { plan, planFrom, planUntil }: Account): Promise<void> {
  const known = await trx
    .selectFrom('sources')
    .select(['plan', 'plan_from', 'plan_until'])
    .where('id', '=', sourceId)
    .executeTakeFirst()
  await trx
    .updateTable('sources')
    .set({ plan, plan_from: planFrom, plan_until: planUntil })
    .where('id', '=', sourceId)
    .execute()
  if (known?.plan === plan && known.plan_from === planFrom && known.plan_until === planUntil) return
  await trx
    .insertInto('plan_periods')
    .values({ source_id: sourceId, plan, plan_from: planFrom, plan_until: planUntil, seen_at: nowIso() })
    .execute()
  await appendToLedger(trx, 'plan-period', { source: sourceId, plan, planFrom, planUntil })
}
