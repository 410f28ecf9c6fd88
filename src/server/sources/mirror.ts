import { FEATURES_VERSION } from '../../core/hearing'
import { type Db, nowIso } from '../database/open'
import { TooLargeError } from '../files/store'
import type { JobContext } from '../jobs/jobs'
import { appendToLedger } from '../ledger/ledger'
import type { Services } from '../services'
import { runTask } from '../workers/pool'
import type { GroupTask, SoundAnalysis } from '../workers/tasks'
import { type Account, type CatalogueSound, type Connector, SourceError } from './connector'
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
 * The catalogue is taken over in one transaction, after all pages came: a library that fails half way changes nothing.
 */
export async function mirrorSource(services: Services, sourceId: string, context: JobContext): Promise<string> {
  const connector = services.connector(sourceId)
  try {
    const count = await mirrorCatalogue(services, connector, context)
    const listened = await listenToNew(services, connector, context)
    if (listened > 0) await groupRecordings(services, context.signal)
    await services.db
      .updateTable('sources')
      .set({ last_sync_at: nowIso(), last_error: null, connected: 1 })
      .where('id', '=', sourceId)
      .execute()
    return `${count} sounds in the catalogue, ${listened} newly listened to`
  } catch (error) {
    if (error instanceof SourceError)
      await services.db.updateTable('sources').set({ last_error: error.message }).where('id', '=', sourceId).execute()
    throw error
  }
}

async function mirrorCatalogue(
  services: Services,
  connector: Connector,
  { signal, report }: JobContext,
): Promise<number> {
  const account = await connector.account(signal)
  const sounds = new Map<string, CatalogueSound>()
  for await (const page of connector.catalogue(signal)) {
    for (const sound of page) sounds.set(sound.externalId, sound)
    report(CATALOGUE_SHARE / 2, `Reading the catalogue: ${sounds.size} sounds`)
  }
  const served = new Map<string, Awaited<ReturnType<Connector['terms']>>>()
  for (const key of new Set([...sounds.values()].map((sound) => sound.termsKey)))
    served.set(key, await connector.terms(key, signal))
  await services.db.transaction().execute(async (trx) => {
    const termsIds = new Map<string, number>()
    for (const [key, terms] of served) termsIds.set(key, await storeTerms(trx, connector.id, terms))
    for (const sound of sounds.values()) {
      const values = soundValues(connector.id, sound, termsIds.get(sound.termsKey) as number)
      await trx
        .insertInto('sounds')
        .values(values)
        .onConflict((conflict) => conflict.columns(['source_id', 'external_id']).doUpdateSet(values))
        .execute()
    }
    const present = await trx
      .selectFrom('sounds')
      .select(['id', 'external_id'])
      .where('source_id', '=', connector.id)
      .where('withdrawn_at', 'is', null)
      .execute()
    for (const { id, external_id } of present)
      if (!sounds.has(external_id))
        await trx.updateTable('sounds').set({ withdrawn_at: nowIso() }).where('id', '=', id).execute()
    await notePlan(trx, connector.id, account)
  })
  return sounds.size
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
    updated_at: nowIso(),
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
