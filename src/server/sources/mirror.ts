import { CATALOGUE_SHARE, groupRecordings, listenToNew } from '../analysis/listen-to-sounds'
import type { Services } from '../context'
import { type Db, nowIso } from '../database/open'
import type { JobContext } from '../jobs/jobs'
import { appendToLedger } from '../ledger/ledger'
import { type Account, type CatalogueSound, type Connector, cataloguePages, SourceError } from '../ports/connector'
import { type HeldTerms, heldToText } from '../terms/held-to-text'
import { storeTerms } from '../terms/terms-store'

/**
 * Mirrors one library: its account, terms and catalogue, then listens to every sound that is new.
 *
 * Pages are put down as they come and taken over in one transaction after the last: a library that fails half way changes
 * nothing, and the next sync goes on from there. A library that can tell what changed is asked only for that.
 */
export async function mirrorSource(services: Services, sourceId: string, context: JobContext): Promise<string> {
  const connector = services.connector(sourceId)
  try {
    const counted = await mirrorCatalogue(services, connector, context)
    const listened = await listenToNew(services, connector, context)
    if (listened > 0) await groupRecordings(services, context.signal)
    const result = `${inWords(counted)}; ${listened} newly listened to`
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
  return `${total} sounds in the catalogue: ${fresh} new, ${changed} changed, ${gone} gone`
}

interface Counted {
  readonly total: number
  readonly fresh: number
  readonly changed: number
  readonly gone: number
}

/** What a sync takes over: all sounds, or only those that changed. */
export interface CatalogueDelta {
  readonly sounds: ReadonlyMap<string, CatalogueSound>
  /** Null when everything that is not in `sounds` is gone. */
  readonly goneIds: readonly string[] | null
  readonly mark: string | null
}

async function mirrorCatalogue(services: Services, connector: Connector, context: JobContext): Promise<Counted> {
  const { signal } = context
  const account = await connector.account(signal)
  const delta = await fetchCatalogueDelta(services, connector, context)
  const served = await fetchTerms(services, connector, delta, signal)
  return services.db.transaction().execute(async (trx) => {
    const counted = await applyCatalogueDelta(trx, connector, delta, served)
    await trx
      .updateTable('sources')
      .set({ change_mark: delta.mark, shrunk_to: null, ...(delta.goneIds === null ? { whole_at: nowIso() } : {}) })
      .where('id', '=', connector.id)
      .execute()
    await trx.deleteFrom('catalogue_stage').where('source_id', '=', connector.id).execute()
    await notePlan(trx, connector.id, account)
    return counted
  })
}

/** What a sync takes over: by the change feed of a library that tells everything, else its whole catalogue. */
export async function fetchCatalogueDelta(
  { db }: Services,
  connector: Connector,
  context: JobContext,
): Promise<CatalogueDelta> {
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
    return { sounds: new Map(changed.map((sound) => [sound.externalId, sound])), goneIds, mark }
  }
  // The mark is taken before the reading, so that nothing that changes meanwhile is missed.
  const mark = (await connector.changes?.(null, signal))?.mark ?? null
  const sounds = await readCatalogue(db, connector, context)
  await requirePlausible(db, connector, sounds.size)
  return { sounds, goneIds: null, mark }
}

/** A catalogue whose changes are told is still read whole this often, ms. */
const WHOLE_EVERY_MS = 7 * 24 * 3600 * 1000

/** A stage older than this is not gone on with, ms. */
const STAGE_MAX_AGE_MS = 6 * 3600 * 1000

/** Reads all pages, going on after those that an earlier try put down. */
async function readCatalogue(
  db: Db,
  connector: Connector,
  { signal, report }: JobContext,
): Promise<Map<string, CatalogueSound>> {
  const staged = await db
    .selectFrom('catalogue_stage')
    .selectAll()
    .where('source_id', '=', connector.id)
    .orderBy('position')
    .execute()
  const last = staged[staged.length - 1]
  const fresh = last !== undefined && Date.now() - Date.parse(last.read_at) < STAGE_MAX_AGE_MS
  let position = fresh ? last.position : 0
  let total = fresh ? last.total : null
  if (!fresh) await db.deleteFrom('catalogue_stage').where('source_id', '=', connector.id).execute()
  const sounds = new Map<string, CatalogueSound>()
  const keep = (page: readonly CatalogueSound[]): void => {
    for (const sound of page) sounds.set(sound.externalId, sound)
  }
  for (const row of fresh ? staged : []) keep(JSON.parse(row.sounds_json) as CatalogueSound[])
  if (fresh && last.next === null) return sounds
  for await (const page of cataloguePages(connector, signal, fresh ? last.next : null)) {
    if (total !== null && page.total !== total) {
      // It changed while it was read: places of pages no longer fit together.
      await db.deleteFrom('catalogue_stage').where('source_id', '=', connector.id).execute()
      throw new SourceError('busy', `The catalogue of ${connector.name} changed while it was read. Sync again.`)
    }
    total = page.total
    position++
    keep(page.sounds)
    await db
      .insertInto('catalogue_stage')
      .values({
        source_id: connector.id,
        position,
        next: page.next,
        total,
        sounds_json: JSON.stringify(page.sounds),
        read_at: nowIso(),
      })
      .execute()
    report(CATALOGUE_SHARE / 2, `Reading the catalogue: ${sounds.size} sounds`)
  }
  return sounds
}

/** A catalogue smaller than this is not looked at for having shrunk. */
const SHRINK_FROM = 10
const SHRINK_SHARE = 0.5

/** A catalogue that lost more than half is not believed the first time: an empty answer must not empty the search. */
async function requirePlausible(db: Db, connector: Connector, count: number): Promise<void> {
  const { present } = await db
    .selectFrom('sounds')
    .select((eb) => eb.fn.countAll<number>().as('present'))
    .where('source_id', '=', connector.id)
    .where('withdrawn_at', 'is', null)
    .executeTakeFirstOrThrow()
  if (present < SHRINK_FROM || count >= present * SHRINK_SHARE) return
  const source = await db.selectFrom('sources').select('shrunk_to').where('id', '=', connector.id).executeTakeFirst()
  if (source?.shrunk_to === count) return
  await db.transaction().execute(async (trx) => {
    await trx.updateTable('sources').set({ shrunk_to: count }).where('id', '=', connector.id).execute()
    await trx.deleteFrom('catalogue_stage').where('source_id', '=', connector.id).execute()
  })
  throw new SourceError(
    'nonsense',
    `${connector.name} lists only ${count} sounds where there were ${present}; nothing here was changed. If that is right, sync once more.`,
  )
}

/** Terms of all sounds that are taken over; on a sync of changes, of all that are in use. */
async function fetchTerms(
  { db, readText }: Services,
  connector: Connector,
  { sounds, goneIds }: CatalogueDelta,
  signal: AbortSignal,
): Promise<Map<string, HeldTerms>> {
  const keys = new Set(
    [...sounds.values()].flatMap(({ termsKey, tiers }) => [termsKey, ...tiers.map((t) => t.termsKey)]),
  )
  if (goneIds !== null)
    for (const { key } of await db
      .selectFrom('sounds')
      .innerJoin('terms', 'terms.id', 'sounds.terms_id')
      .select('terms.key')
      .distinct()
      .where('sounds.source_id', '=', connector.id)
      .where('sounds.withdrawn_at', 'is', null)
      .execute())
      keys.add(key)
  const served = new Map<string, HeldTerms>()
  for (const key of keys) served.set(key, await heldToText(await connector.terms(key, signal), readText))
  return served
}

async function applyCatalogueDelta(
  trx: Db,
  connector: Connector,
  { sounds, goneIds }: CatalogueDelta,
  served: ReadonlyMap<string, HeldTerms>,
): Promise<Counted> {
  const termsIds = new Map<string, number>()
  for (const [key, terms] of served) {
    const id = await storeTerms(trx, connector.id, terms)
    termsIds.set(key, id)
    // Sounds that did not change themselves come under the new version too; papers keep theirs.
    await trx
      .updateTable('sounds')
      .set({ terms_id: id })
      .where('source_id', '=', connector.id)
      .where('terms_id', '!=', id)
      .where('terms_id', 'in', (eb) =>
        eb.selectFrom('terms').select('terms.id').where('source_id', '=', connector.id).where('key', '=', key),
      )
      .execute()
  }
  const rows = await trx.selectFrom('sounds').selectAll().where('source_id', '=', connector.id).execute()
  const known = new Map(rows.map((row) => [row.external_id, row]))
  let fresh = 0
  let changed = 0
  for (const sound of sounds.values()) {
    const values = soundValues(connector.id, sound, termsIds.get(sound.termsKey) as number)
    const before = known.get(sound.externalId)
    if (before && isSame(before, values)) continue
    if (before) changed++
    else fresh++
    const { id } = await trx
      .insertInto('sounds')
      .values({ ...values, updated_at: nowIso(), added_at: nowIso() })
      .onConflict((conflict) =>
        conflict.columns(['source_id', 'external_id']).doUpdateSet({ ...values, updated_at: nowIso() }),
      )
      .returning('id')
      .executeTakeFirstOrThrow()
    known.set(sound.externalId, {
      ...values,
      id,
      updated_at: '',
      added_at: '',
      own_title: null,
    } as (typeof rows)[number])
  }
  await storeTiers(trx, sounds, { termsIds, soundIdOf: (externalId) => known.get(externalId)?.id as number })
  const present = rows.filter((row) => row.withdrawn_at === null)
  const gone = present.filter(({ external_id }) =>
    goneIds === null ? !sounds.has(external_id) : goneIds.includes(external_id),
  )
  for (const { id } of gone)
    await trx.updateTable('sounds').set({ withdrawn_at: nowIso() }).where('id', '=', id).execute()
  const total = present.length - gone.length + fresh + reappeared(rows, sounds)
  return { total, fresh, changed, gone: gone.length }
}

function reappeared(
  rows: readonly { external_id: string; withdrawn_at: string | null }[],
  sounds: ReadonlyMap<string, CatalogueSound>,
): number {
  return rows.filter(({ external_id, withdrawn_at }) => withdrawn_at !== null && sounds.has(external_id)).length
}

function isSame(before: object, values: object): boolean {
  return Object.entries(values).every(([key, value]) => (before as Record<string, unknown>)[key] === value)
}

async function storeTiers(
  trx: Db,
  sounds: ReadonlyMap<string, CatalogueSound>,
  known: { termsIds: ReadonlyMap<string, number>; soundIdOf: (externalId: string) => number },
): Promise<void> {
  for (const { externalId, tiers } of sounds.values()) {
    const soundId = known.soundIdOf(externalId)
    const rows = tiers.map((tier, position) => ({
      sound_id: soundId,
      key: tier.key,
      position,
      title: tier.title,
      price_minor: tier.priceMinor,
      currency: tier.currency,
      terms_id: known.termsIds.get(tier.termsKey) as number,
    }))
    await trx.deleteFrom('sound_tiers').where('sound_id', '=', soundId).execute()
    // What is not sold any more keeps no price.
    if (rows.length > 0) await trx.insertInto('sound_tiers').values(rows).execute()
  }
}

/** Writes the plan down; a period that is not the one on file is an event of its own. */
async function notePlan(trx: Db, sourceId: string, { plan, planFrom, planUntil }: Account): Promise<void> {
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

function soundValues(sourceId: string, sound: CatalogueSound, termsId: number) {
  return {
    source_id: sourceId,
    external_id: sound.externalId,
    title: sound.title,
    maker: sound.maker,
    description: sound.description,
    tags_json: JSON.stringify(sound.tags),
    category: sound.category,
    duration_s: sound.durationS,
    formats_json: JSON.stringify(sound.formats),
    cost: sound.cost,
    page_url: sound.pageUrl,
    preview_ref: sound.previewRef,
    terms_id: termsId,
    withdrawn_at: null,
    kind: sound.kind,
    tempo_bpm: sound.tempoBpm,
    mood: sound.mood,
    vocals: sound.vocals === null ? null : Number(sound.vocals),
    popularity: sound.popularity,
  }
}
