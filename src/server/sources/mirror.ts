import { FEATURES_VERSION } from '../../core/hearing'
import { type Db, nowIso } from '../database/open'
import { TooLargeError } from '../files/store'
import type { JobContext } from '../jobs/jobs'
import { appendToLedger } from '../ledger/ledger'
import type { Services } from '../services'
import { runTask } from '../workers/pool'
import type { GroupTask, SoundAnalysis } from '../workers/tasks'
import {
  type Account,
  type CatalogueSound,
  type Connector,
  cataloguePages,
  type ServedTerms,
  SourceError,
} from './connector'
import { storeTerms } from './terms-store'

/** Largest preview that is fetched, bytes. */
const MAX_PREVIEW_BYTES = 100 * 1024 * 1024
/** Previews fetched and analysed at the same time: polite to the library, enough for two cores. */
const PREVIEWS_AT_ONCE = 3
/** Share of the work that reading the catalogue is, for progress. */
const CATALOGUE_SHARE = 0.2

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
      .set({ last_sync_at: nowIso(), last_error: null, connected: 1, last_result: result })
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
interface Taking {
  readonly sounds: ReadonlyMap<string, CatalogueSound>
  /** Null when everything that is not in `sounds` is gone. */
  readonly goneIds: readonly string[] | null
  readonly mark: string | null
}

async function mirrorCatalogue(services: Services, connector: Connector, context: JobContext): Promise<Counted> {
  const { signal } = context
  const account = await connector.account(signal)
  const taking = await takingOf(services, connector, context)
  const served = await servedTerms(services, connector, taking, signal)
  return services.db.transaction().execute(async (trx) => {
    const counted = await takeOver(trx, connector, taking, served)
    await trx
      .updateTable('sources')
      .set({ change_mark: taking.mark, shrunk_to: null, ...(taking.goneIds === null ? { whole_at: nowIso() } : {}) })
      .where('id', '=', connector.id)
      .execute()
    await trx.deleteFrom('catalogue_stage').where('source_id', '=', connector.id).execute()
    await notePlan(trx, connector.id, account)
    return counted
  })
}

async function takingOf({ db }: Services, connector: Connector, context: JobContext): Promise<Taking> {
  const { signal } = context
  const source = await db
    .selectFrom('sources')
    .select(['change_mark', 'connected', 'whole_at'])
    .where('id', '=', connector.id)
    .executeTakeFirstOrThrow()
  const recent = source.whole_at !== null && Date.now() - Date.parse(source.whole_at) < WHOLE_EVERY_MS
  if (connector.changes && source.change_mark !== null && source.connected === 1 && recent) {
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
async function servedTerms(
  { db }: Services,
  connector: Connector,
  { sounds, goneIds }: Taking,
  signal: AbortSignal,
): Promise<Map<string, ServedTerms>> {
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
  const served = new Map<string, ServedTerms>()
  for (const key of keys) served.set(key, await connector.terms(key, signal))
  return served
}

async function takeOver(
  trx: Db,
  connector: Connector,
  { sounds, goneIds }: Taking,
  served: ReadonlyMap<string, ServedTerms>,
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
      .values({ ...values, updated_at: nowIso() })
      .onConflict((conflict) =>
        conflict.columns(['source_id', 'external_id']).doUpdateSet({ ...values, updated_at: nowIso() }),
      )
      .returning('id')
      .executeTakeFirstOrThrow()
    known.set(sound.externalId, { ...values, id, updated_at: '' } as (typeof rows)[number])
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
    if (tiers.length === 0) continue
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
    await trx.insertInto('sound_tiers').values(rows).execute()
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
  }
}

async function listenToNew(services: Services, connector: Connector, context: JobContext): Promise<number> {
  const waiting = await services.db
    .selectFrom('sounds')
    .leftJoin('analyses', 'analyses.sound_id', 'sounds.id')
    .select(['sounds.id', 'sounds.preview_ref', 'sounds.title'])
    .where('sounds.source_id', '=', connector.id)
    .where('sounds.withdrawn_at', 'is', null)
    .where((eb) => eb.or([eb('analyses.sound_id', 'is', null), eb('analyses.feature_version', '<', FEATURES_VERSION)]))
    .execute()
  let done = 0
  const queue = [...waiting]
  const lane = async (): Promise<void> => {
    for (let next = queue.shift(); next; next = queue.shift()) {
      await listenToOne(services, connector, next, context.signal)
      done++
      const share = CATALOGUE_SHARE + (1 - CATALOGUE_SHARE) * (done / waiting.length)
      context.report(share, `Listening to ${done} of ${waiting.length} new sounds`)
    }
  }
  await Promise.all(Array.from({ length: PREVIEWS_AT_ONCE }, lane))
  return done
}

/** One sound that cannot be fetched or decoded does not stop the others: it is written down with the reason. */
async function listenToOne(
  services: Services,
  connector: Connector,
  sound: { id: number; preview_ref: string; title: string },
  signal: AbortSignal,
): Promise<void> {
  try {
    const preview = await connector.preview(sound.preview_ref, signal)
    const stored = await services.store.takeIn(preview.body, { maxBytes: MAX_PREVIEW_BYTES, signal })
    await analyseInto(services, sound.id, stored.sha256, preview.mime, signal)
  } catch (error) {
    if (signal.aborted) throw error
    // A library that is down stays down: stop, and try the rest at the next sync.
    if (error instanceof SourceError && (error.code === 'down' || error.code === 'busy')) throw error
    const reason = error instanceof TooLargeError ? 'Its preview is far too large.' : services.explain(error)
    await services.db
      .insertInto('analysis_failures')
      .values({ sound_id: sound.id, reason, at: nowIso() })
      .onConflict((conflict) => conflict.column('sound_id').doUpdateSet({ reason, at: nowIso() }))
      .execute()
  }
}

/** Looks through all sounds of all libraries for those that are the same recording, and writes the groups down anew. */
export async function groupRecordings({ db, store, pool }: Services, signal: AbortSignal): Promise<void> {
  const rows = await db
    .selectFrom('analyses')
    .select(['sound_id', 'audio_sha256'])
    .where('feature_version', '=', FEATURES_VERSION)
    .orderBy('sound_id')
    .execute()
  const task: GroupTask = { paths: rows.map(({ audio_sha256 }) => store.featurePath(audio_sha256)) }
  const groups = await runTask<number[][]>(pool, 'groupSounds', task, { signal })
  await db.transaction().execute(async (trx) => {
    await trx.deleteFrom('recording_groups').execute()
    for (const group of groups) {
      const ids = group.map((index) => (rows[index] as (typeof rows)[number]).sound_id)
      const [first] = ids as [number]
      await trx
        .insertInto('recording_groups')
        .values(ids.map((id) => ({ sound_id: id, group_id: first })))
        .execute()
    }
  })
}

/** Analyses a stored file as the audio of a sound and records print, loudness, hit and features. */
export async function analyseInto(
  services: Services,
  soundId: number,
  sha256: string,
  mime: string,
  signal: AbortSignal,
): Promise<void> {
  const task = { path: services.store.blobPath(sha256), featurePath: services.store.featurePath(sha256) }
  const analysis = await runTask<SoundAnalysis>(services.pool, 'analyseSound', task, { signal })
  const values = {
    sound_id: soundId,
    audio_sha256: sha256,
    audio_mime: mime,
    print_column_s: analysis.printColumnS,
    print_levels: Buffer.from(analysis.printLevels),
    loudness_lufs: analysis.loudnessLufs,
    hit_s: analysis.hitS,
    duration_s: analysis.durationS,
    feature_version: FEATURES_VERSION,
  }
  await services.db.transaction().execute(async (trx) => {
    await trx
      .insertInto('analyses')
      .values(values)
      .onConflict((conflict) => conflict.column('sound_id').doUpdateSet(values))
      .execute()
    await trx.deleteFrom('analysis_failures').where('sound_id', '=', soundId).execute()
  })
}
