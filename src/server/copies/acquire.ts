import fs from 'node:fs'
import type { Insertable } from 'kysely'
import { creditLine } from '../../core/credits'
import { clauseOf, groundedClauses } from '../../core/rights'
import { analyseInto } from '../analysis/listen-to-sounds'
import type { Services } from '../context'
import { type Db, nowIso, todayIso } from '../database/open'
import type { Schema } from '../database/schema'
import { DomainError } from '../domain-error'
import { copyFileName, plainFileName } from '../files/file-name'
import { type StoredFile, TooLargeError } from '../files/store'
import type { JobContext } from '../jobs/jobs'
import { appendToLedger, sha256Of } from '../ledger/ledger'
import { bindVideo } from '../papers/bind-video'
import { storeEvidence } from '../papers/evidence'
import { type ServedTerms, SourceError } from '../ports/connector'
import { getLicensee, getNamePattern } from '../settings'
import { heldToText } from '../terms/held-to-text'
import { storeTerms } from '../terms/terms-store'
import { runTask } from '../workers/pool'
import type { FileRights } from '../workers/tag-file'
import type { PieceTask, TagTask } from '../workers/tasks'
import { runWatchedTask } from '../workers/watched-task'

/** Largest copy that is fetched, bytes. */
const MAX_COPY_BYTES = 2 * 1024 * 1024 * 1024

/**
 * Whether a copy of a sound is here, under the plan that runs.
 *
 * @param planUntil End of the plan that a copy would be acquired under now; null when it does not end.
 */
export async function isHere(
  { db, store }: Pick<Services, 'db' | 'store'>,
  soundId: number,
  planUntil: string | null,
): Promise<boolean> {
  const held = await db
    .selectFrom('active_grants')
    .select(['copy_sha256', 'plan_until'])
    .where('sound_id', '=', soundId)
    .orderBy('id', 'desc')
    .executeTakeFirst()
  return held !== undefined && held.plan_until === planUntil && store.has(held.copy_sha256)
}

/** What is acquired, and how. */
interface Acquisition {
  readonly soundId: number
  /** Sent along so that the source never makes the same order twice. */
  readonly orderKey: string
  readonly tier: { readonly key: string; readonly priceMinor: number; readonly currency: string } | null
  /** Null: as the library has it. */
  readonly format: string | null
  /** Video that a purchase is for. */
  readonly videoId: number | null
}

/**
 * Downloads a sound that costs nothing by itself: terms as served today, the order, the file; then copy and papers in one transaction.
 *
 * Does nothing when the sound is here already under the plan that runs. Killed at any point it leaves the copy whole with
 * its papers, or nothing; the order key makes the library give the same order when it is asked again.
 */
export async function acquireSound(services: Services, soundId: number, context: JobContext): Promise<string> {
  const sound = await getSoundToAcquire(services, soundId)
  const { planUntil } = await services.connector(sound.source_id).account(context.signal)
  if (await isHere(services, soundId, planUntil)) return 'It is here already.'
  const { format } = context
  const orderKey = `good-thud-${sound.source_id}-${sound.external_id}-${planUntil ?? 'open'}${format ? `-${format}` : ''}`
  return acquire(services, { soundId, orderKey, tier: null, format, videoId: null }, context)
}

/**
 * Carries out an order that was written down. Its key was drawn before the library was first asked, so that an order that broke
 * off at any point is the same order when it is taken up again: it is paid once.
 */
export async function carryOutOrder(services: Services, orderId: number, context: JobContext): Promise<string> {
  const { db } = services
  const order = await db.selectFrom('orders').selectAll().where('id', '=', orderId).executeTakeFirst()
  if (!order) throw new DomainError('not-found', 'This order is not on file any more.')
  if (order.state === 'done') return 'It was bought already.'
  const tier = { key: order.tier, priceMinor: order.price_minor, currency: order.currency }
  const { sound_id: soundId, order_key: orderKey, video_id: videoId } = order
  return acquire(services, { soundId, orderKey, tier, format: null, videoId }, context)
}

async function getSoundToAcquire({ db }: Services, soundId: number) {
  const sound = await db.selectFrom('sound_rows').selectAll().where('id', '=', soundId).executeTakeFirst()
  if (!sound) throw new DomainError('not-found', 'This sound is no longer in the catalogue.')
  return sound
}
type SoundToAcquire = Awaited<ReturnType<typeof getSoundToAcquire>>

async function acquire(
  services: Services,
  { soundId, orderKey, tier, format, videoId }: Acquisition,
  { signal, report }: JobContext,
): Promise<string> {
  const { db } = services
  const sound = await getSoundToAcquire(services, soundId)
  const connector = services.connector(sound.source_id)
  report(0.05, 'Reading the terms as they stand today')
  const account = await connector.account(signal)
  const termsKey = tier ? await getTermsKey(db, soundId, tier.key) : sound.terms_key
  const terms = await heldToText(await connector.terms(termsKey, signal), services.readText)
  report(0.15, tier ? 'Buying it' : 'Ordering the file')
  const order = await connector.order(sound.external_id, { key: orderKey, tier, format }, signal)
  report(0.3, 'Fetching the file')
  const stored = await storeDownload(services, order.file.body, signal)
  const receipt = order.receipt ? await storeDownload(services, order.receipt.body, signal) : null
  report(0.6, 'Checking the file')
  const before = await findAudioSha256(db, soundId)
  await analyseInto(services, soundId, stored.sha256, order.file.mime, signal)
  const heardSha256 = await findSameRecording(services, { before, now: stored.sha256, signal })
  report(0.8, 'Writing the rights into the file')
  const rights = rightsOf(sound, terms, orderKey)
  const copy = await makeTaggedCopy(services, {
    servedSha256: stored.sha256,
    ending: order.file.ending,
    rights,
    signal,
  })
  const { shown_title: title, maker, source_name: source } = sound
  const parts = { title, maker, source, ending: order.file.ending }
  const fileName = copyFileName(parts, await getNamePattern(db))
  await db.transaction().execute(async (trx) => {
    const termsId = await storeTerms(trx, sound.source_id, terms)
    await storeCopy(trx, { ...copy, mime: order.file.mime, fileName })
    const grantId = await storeGrant(trx, sound, {
      copy_sha256: copy.sha256,
      served_sha256: stored.sha256,
      heard_sha256: heardSha256,
      terms_id: termsId,
      title: order.title,
      plan_from: account.planFrom,
      plan_until: account.planUntil,
      order_ref: order.ref,
      tier: tier?.key ?? null,
      paid_minor: order.paid?.minor ?? null,
      paid_currency: order.paid?.currency ?? null,
      original_name: order.originalName ? plainFileName(order.originalName) : null,
      credit_line: rights.creditLine,
      acquisition_id: rights.acquisitionId,
      kind: tier ? 'purchase' : account.planUntil ? 'plan' : 'licence',
    })
    if (receipt && grantId !== null)
      await storeEvidence(trx, grantId, { ...receipt, mime: 'application/pdf', fileName: `receipt ${order.ref}.pdf` })
    if (videoId !== null && grantId !== null)
      await bindVideo(trx, { grantId, videoId, key: 'projects', note: 'bought for it' })
    // The sound goes on being offered under the terms of today; a purchase in a higher tier does not change that.
    if (!tier) await trx.updateTable('sounds').set({ terms_id: termsId }).where('id', '=', soundId).execute()
    await trx
      .updateTable('orders')
      .set({ state: 'done', order_ref: order.ref })
      .where('order_key', '=', orderKey)
      .execute()
  })
  return `Saved as “${fileName}”, with its papers.`
}

/** The audio by which a sound is known so far: its preview. */
async function findAudioSha256(db: Db, soundId: number): Promise<string | null> {
  const row = await db.selectFrom('analyses').select('audio_sha256').where('sound_id', '=', soundId).executeTakeFirst()
  return row?.audio_sha256 ?? null
}

/** The earlier audio of a sound, if the file that came is the same recording: then papers for the one hold for what was heard of the other. */
async function findSameRecording(
  { store, pool }: Services,
  { before, now, signal }: { before: string | null; now: string; signal: AbortSignal },
): Promise<string | null> {
  if (before === null || before === now) return null
  // A preview may be a piece of the file; both come from one listing of one library.
  const task: PieceTask = { paths: [store.featurePath(before), store.featurePath(now)] }
  return (await runTask<boolean>(pool, 'comparePieces', task, { signal })) ? before : null
}

async function getTermsKey(db: Db, soundId: number, tierKey: string): Promise<string> {
  const row = await db
    .selectFrom('sound_tiers')
    .innerJoin('terms', 'terms.id', 'sound_tiers.terms_id')
    .select('terms.key')
    .where('sound_id', '=', soundId)
    .where('sound_tiers.key', '=', tierKey)
    .executeTakeFirst()
  if (!row) throw new DomainError('not-found', 'This tier is no longer offered. Look at the prices again.')
  return row.key
}

function rightsOf(sound: SoundToAcquire, served: ServedTerms, orderKey: string): FileRights {
  return {
    title: sound.original_title,
    maker: sound.maker,
    source: sound.source_name,
    licenceTitle: `${served.title} (version ${served.version})`,
    licenceUrl: served.url,
    creditLine: owedCredit(served, {
      title: sound.original_title,
      maker: sound.maker,
      sourceName: sound.source_name,
      pageUrl: sound.page_url,
    }),
    // From the order's key, so that an order that is taken up again gives the same file.
    acquisitionId: `GT-${sha256Of(orderKey).slice(0, 12)}`,
    acquiredOn: todayIso(),
  }
}

/** The file with its rights written in; the file itself where its kind takes no tags. */
async function makeTaggedCopy(
  { store, pool }: Services,
  options: { servedSha256: string; ending: string; rights: FileRights; signal: AbortSignal },
): Promise<StoredFile> {
  const { servedSha256, ending, rights, signal } = options
  const temporary = store.temporaryPath(ending)
  await fs.promises.copyFile(store.blobPath(servedSha256), temporary)
  try {
    await runWatchedTask<boolean>(pool, 'tagCopy', { path: temporary, ending, rights } satisfies TagTask, { signal })
    return await store.commitTemporaryFile(temporary)
  } finally {
    await fs.promises.rm(temporary, { force: true })
  }
}

/** Writes a grant down with its entry in the ledger. @returns null when this order is on file already. */
async function storeGrant(
  trx: Db,
  sound: SoundToAcquire,
  values: Omit<Insertable<Schema['grants']>, 'sound_id' | 'licensee' | 'acquired_at'>,
): Promise<number | null> {
  const grant = { ...values, sound_id: sound.id, licensee: await getLicensee(trx), acquired_at: nowIso() }
  const written = await trx
    .insertInto('grants')
    .values(grant)
    .onConflict((conflict) => conflict.columns(['sound_id', 'order_ref']).doNothing())
    .returning('id')
    .executeTakeFirst()
  if (!written) return null
  const terms = await trx
    .selectFrom('terms')
    .select('sha256')
    .where('id', '=', grant.terms_id)
    .executeTakeFirstOrThrow()
  await appendToLedger(trx, 'acquired', {
    grantId: written.id,
    source: sound.source_id,
    sound: sound.external_id,
    title: sound.original_title,
    maker: sound.maker,
    copySha256: grant.copy_sha256,
    servedSha256: grant.served_sha256 ?? null,
    acquisition: grant.acquisition_id ?? '',
    termsSha256: terms.sha256,
    grant: grant.title,
    planFrom: grant.plan_from ?? null,
    planUntil: grant.plan_until ?? null,
    order: grant.order_ref,
    paidMinor: grant.paid_minor ?? null,
    currency: grant.paid_currency ?? null,
    licensee: grant.licensee,
    creditLine: grant.credit_line ?? null,
  })
  return written.id
}

/** Writes a copy down; the same file is written down once. */
export async function storeCopy(
  trx: Db,
  { sha256, sizeBytes, mime, fileName }: StoredFile & { mime: string; fileName: string },
): Promise<void> {
  await trx
    .insertInto('copies')
    .values({ sha256, size_bytes: sizeBytes, mime, file_name: fileName, created_at: nowIso() })
    .onConflict((conflict) => conflict.doNothing())
    .execute()
}

async function storeDownload(
  services: Services,
  body: Parameters<Services['store']['storeStream']>[0],
  signal: AbortSignal,
) {
  try {
    return await services.store.storeStream(body, { maxBytes: MAX_COPY_BYTES, signal, readBack: true })
  } catch (error) {
    if (error instanceof TooLargeError)
      throw new SourceError('too-large', 'The library sent more than 2 GB for one sound. Nothing was kept.')
    if (signal.aborted || error instanceof SourceError) throw error
    throw new SourceError('down', 'The library broke off in the middle of the file. Download it again.', {
      cause: error,
    })
  }
}

function owedCredit(
  served: ServedTerms,
  parts: { title: string; maker: string; sourceName: string; pageUrl: string | null },
): string | null {
  const clauses = groundedClauses(served.text, served.readings)
  const terms = { ...served, clauses }
  if (clauseOf(terms, 'credit').answer === 'yes') return null
  const { limit } = clauseOf(terms, 'credit')
  const template = limit?.kind === 'credit' ? limit.template : null
  return creditLine({
    ...parts,
    template,
    licenceTitle: served.title,
    licenceUrl: served.url,
    changes: 'cut and mixed',
  })
}
