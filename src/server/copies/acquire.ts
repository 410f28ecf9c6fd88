import fs from 'node:fs'
import type { Insertable } from 'kysely'
import { creditLine } from '../../core/credits'
import { clauseOf, groundedClauses } from '../../core/rights'
import { copies as messages } from '../../messages/server/copies'
import { analyseInto } from '../analysis/listen-to-sounds'
import type { Services } from '../context'
import { type Db, dayOf, nowIso, todayIso } from '../database/open'
import type { Schema } from '../database/schema'
import { DomainError } from '../domain-error'
import { copyFileName, plainFileName } from '../files/file-name'
import { type StoredFile, TooLargeError } from '../files/store'
import type { JobContext } from '../jobs/jobs'
import { appendToLedger, sha256Of } from '../ledger/ledger'
import { bindVideo } from '../papers/bind-video'
import { storeEvidence } from '../papers/evidence'
import { type Connector, type Order, type ServedTerms, SourceError } from '../ports/connector'
import { getLicensee, getNamePattern } from '../settings'
import { type HeldTerms, heldToText } from '../terms/held-to-text'
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

/** What came of it. */
export interface Acquired {
  readonly grantId: number
  readonly fileName: string
}

/** What is acquired, and how. */
export interface Acquisition {
  readonly soundId: number
  /** Sent along so that the source never makes the same order twice. */
  readonly orderKey: string
  readonly tier: { readonly key: string; readonly priceMinor: number; readonly currency: string } | null
  /** Null: as the library has it. */
  readonly format: string | null
  /** Video that a purchase is for. */
  readonly videoId: number | null
  /** Terms that were agreed to when it was paid; those of today where it is not paid yet. */
  readonly terms?: HeldTerms
  /** Places the order; by default the library is simply asked. */
  readonly place?: (at: {
    readonly connector: Connector
    readonly sound: SoundToAcquire
    readonly terms: HeldTerms
  }) => Promise<Order>
  readonly onReceipt?: (sha256: string) => Promise<void>
  readonly onFile?: (sha256: string) => Promise<void>
  /** In the transaction that writes the papers. */
  readonly onGrant?: (trx: Db, came: { readonly grantId: number; readonly hasReceipt: boolean }) => Promise<void>
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
  if (await isHere(services, soundId, planUntil)) return messages.itIsHereAlready
  const { format } = context
  const orderKey = `good-thud-${sound.source_id}-${sound.external_id}-${planUntil ?? 'open'}${format ? `-${format}` : ''}`
  const { fileName } = await acquire(services, { soundId, orderKey, tier: null, format, videoId: null }, context)
  return savedInWords(fileName)
}

export function savedInWords(fileName: string): string {
  return messages.savedAsWithItsPapers(fileName)
}

async function getSoundToAcquire({ db }: Services, soundId: number) {
  const sound = await db.selectFrom('sound_rows').selectAll().where('id', '=', soundId).executeTakeFirst()
  if (!sound) throw new DomainError('not-found', messages.thisSoundNoLongerIn)
  return sound
}
export type SoundToAcquire = Awaited<ReturnType<typeof getSoundToAcquire>>

/**
 * Has the library hand out a sound, and stores the copy with its papers in one transaction.
 *
 * @throws {SourceError} {MediaError} {DomainError}; AbortError.
 */
export async function acquire(services: Services, acquisition: Acquisition, context: JobContext): Promise<Acquired> {
  const { db } = services
  const { soundId, orderKey, tier, format, videoId } = acquisition
  const { signal, report } = context
  const sound = await getSoundToAcquire(services, soundId)
  const connector = services.connector(sound.source_id)
  report(0.05, messages.readingTermsAsTheyStand)
  const account = await connector.account(signal)
  const terms = acquisition.terms ?? (await termsOfToday(services, { sound, connector, tier, signal }))
  report(0.15, tier ? messages.buyingIt : messages.orderingTheFile)
  const order = acquisition.place
    ? await acquisition.place({ connector, sound, terms })
    : await connector.order(sound.external_id, { key: orderKey, tier, format }, signal)
  // What shows the payment comes first: it is kept even where the file cannot be had.
  const receipt = await fetchReceipt(services, order, acquisition, signal)
  report(0.3, messages.fetchingTheFile)
  const file = await order.file(signal)
  const stored = await storeDownload(services, file.body, signal)
  await acquisition.onFile?.(stored.sha256)
  report(0.6, messages.checkingTheFile)
  const before = await findPreview(db, soundId)
  await analyseInto(services, soundId, stored.sha256, file.mime, signal)
  const heard = await findSameRecording(services, { before, now: stored.sha256, signal })
  report(0.8, messages.writingRightsIntoFile)
  const earlier = await findEarlierGrant(db, soundId, { ref: order.ref, servedSha256: stored.sha256 })
  const rights = { ...rightsOf(sound, terms, orderKey), ...earlier?.rights }
  const copy = await makeTaggedCopy(services, { servedSha256: stored.sha256, ending: file.ending, rights, signal })
  const { shown_title: title, maker, source_name: source } = sound
  const parts = { title, maker, source, ending: file.ending }
  const fileName = copyFileName(parts, await getNamePattern(db))
  const grantId = await db.transaction().execute(async (trx) => {
    const termsId = await storeTerms(trx, sound.source_id, terms)
    await storeCopy(trx, { ...copy, mime: file.mime, fileName })
    const granted = await storeGrant(trx, sound, {
      copy_sha256: copy.sha256,
      served_sha256: stored.sha256,
      heard_sha256: heard?.audio_sha256 ?? null,
      heard_duration_s: heard?.duration_s ?? null,
      terms_id: termsId,
      title: order.title,
      plan_from: account.planFrom,
      plan_until: account.planUntil,
      order_ref: earlier?.orderRef ?? order.ref,
      tier: tier?.key ?? null,
      paid_minor: order.paid?.minor ?? null,
      paid_currency: order.paid?.currency ?? null,
      original_name: order.originalName ? plainFileName(order.originalName) : null,
      credit_line: rights.creditLine,
      acquisition_id: rights.acquisitionId,
      rights_json: JSON.stringify(rights),
      kind: tier ? 'purchase' : account.planUntil ? 'plan' : 'licence',
    })
    if (receipt && granted.isNew) await storeReceipt(trx, granted.id, { ...receipt, ref: order.ref })
    if (videoId !== null && granted.isNew)
      await bindVideo(trx, { grantId: granted.id, videoId, key: 'projects', note: messages.boughtForIt })
    // The sound goes on being offered under the terms of today; a purchase in a higher tier does not change that.
    if (!tier) await trx.updateTable('sounds').set({ terms_id: termsId }).where('id', '=', soundId).execute()
    await acquisition.onGrant?.(trx, { grantId: granted.id, hasReceipt: receipt !== null || order.receipt === null })
    return granted.id
  })
  await requireThere(services, grantId)
  return { grantId, fileName }
}

/** A grant is no success while its file is not here. @throws {SourceError} nonsense. */
async function requireThere({ db, store }: Services, grantId: number): Promise<void> {
  const { copy_sha256 } = await db
    .selectFrom('grants')
    .select('copy_sha256')
    .where('id', '=', grantId)
    .executeTakeFirstOrThrow()
  if (store.has(copy_sha256)) return
  throw new SourceError('nonsense', messages.fileCameButNotCopy)
}

interface Earlier {
  readonly orderRef: string
  /** With which rights the copy was made, as far as they are known; null where the papers are new. */
  readonly rights: Partial<FileRights> | null
}

/**
 * The papers that an order gave before: a copy that was lost is made again as it was, with the tags of that day. Where the library
 * gives another file under the same order, papers of their own are written for it.
 */
async function findEarlierGrant(
  db: Db,
  soundId: number,
  { ref, servedSha256 }: { readonly ref: string; readonly servedSha256: string },
): Promise<Earlier | null> {
  const grants = await db
    .selectFrom('grants')
    .select(['order_ref', 'served_sha256', 'rights_json', 'credit_line', 'acquisition_id', 'acquired_at'])
    .where('sound_id', '=', soundId)
    .where((eb) => eb.or([eb('order_ref', '=', ref), eb('order_ref', '=', otherFileRef(ref, servedSha256))]))
    .orderBy('id')
    .execute()
  const same = grants.find((grant) => grant.served_sha256 === servedSha256 || grant.served_sha256 === null)
  if (same) {
    const { credit_line: creditLine, acquisition_id: acquisitionId, acquired_at: acquiredAt } = same
    const rights = same.rights_json === null ? {} : (JSON.parse(same.rights_json) as FileRights)
    return { orderRef: same.order_ref, rights: { creditLine, acquisitionId, acquiredOn: dayOf(acquiredAt), ...rights } }
  }
  if (grants.every(({ order_ref }) => order_ref !== ref)) return null
  return { orderRef: otherFileRef(ref, servedSha256), rights: null }
}

function otherFileRef(ref: string, servedSha256: string): string {
  return `${ref} (${servedSha256.slice(0, 8)})`
}

async function termsOfToday(
  { db, readText }: Services,
  asked: {
    readonly sound: SoundToAcquire
    readonly connector: Connector
    readonly tier: Acquisition['tier']
    readonly signal: AbortSignal
  },
): Promise<HeldTerms> {
  const { sound, connector, tier, signal } = asked
  const key = tier ? await getTermsKey(db, sound.id, tier.key) : sound.terms_key
  return heldToText(await connector.terms(key, signal), readText)
}

/** What shows a payment; for an order that is written down, a receipt that does not come holds nothing up. */
async function fetchReceipt(
  services: Services,
  order: Order,
  { onReceipt }: Acquisition,
  signal: AbortSignal,
): Promise<StoredFile | null> {
  if (!order.receipt) return null
  try {
    const receipt = await storeDownload(services, (await order.receipt(signal)).body, signal)
    await onReceipt?.(receipt.sha256)
    return receipt
  } catch (error) {
    if (signal.aborted || !onReceipt) throw error
    return null
  }
}

/** Files a receipt with its papers. @param trx A transaction. */
export function storeReceipt(trx: Db, grantId: number, receipt: StoredFile & { readonly ref: string }): Promise<void> {
  const { ref, ...stored } = receipt
  return storeEvidence(trx, grantId, { ...stored, mime: 'application/pdf', fileName: `receipt ${ref}.pdf` })
}

type Preview = Pick<Schema['analyses'], 'audio_sha256' | 'duration_s'>

/** The audio by which a sound is known so far: its preview. */
function findPreview(db: Db, soundId: number): Promise<Preview | undefined> {
  return db
    .selectFrom('analyses')
    .select(['audio_sha256', 'duration_s'])
    .where('sound_id', '=', soundId)
    .executeTakeFirst()
}

/** The earlier audio of a sound, if the file that came is the same recording: then papers for the one hold for what was heard of the other. */
async function findSameRecording(
  { store, pool }: Services,
  { before, now, signal }: { before: Preview | undefined; now: string; signal: AbortSignal },
): Promise<Preview | null> {
  if (!before || before.audio_sha256 === now) return null
  // A preview may be a piece of the file; both come from one listing of one library.
  const task: PieceTask = { paths: [store.featurePath(before.audio_sha256), store.featurePath(now)] }
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
  if (!row) throw new DomainError('not-found', messages.thisTierNoLongerOffered)
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

/** Writes a grant down with its entry in the ledger; one of the same order that is on file stays as it is. */
async function storeGrant(
  trx: Db,
  sound: SoundToAcquire,
  values: Omit<Insertable<Schema['grants']>, 'sound_id' | 'licensee' | 'acquired_at'>,
): Promise<{ id: number; isNew: boolean }> {
  const grant = { ...values, sound_id: sound.id, licensee: await getLicensee(trx), acquired_at: nowIso() }
  const written = await trx
    .insertInto('grants')
    .values(grant)
    .onConflict((conflict) => conflict.columns(['sound_id', 'order_ref']).doNothing())
    .returning('id')
    .executeTakeFirst()
  if (!written) {
    const { id } = await trx
      .selectFrom('grants')
      .select('id')
      .where('sound_id', '=', sound.id)
      .where('order_ref', '=', grant.order_ref)
      .executeTakeFirstOrThrow()
    return { id, isNew: false }
  }
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
  return { id: written.id, isNew: true }
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

/** Stores what a library sends, whole or not at all. */
export async function storeDownload(
  services: Services,
  body: Parameters<Services['store']['storeStream']>[0],
  signal: AbortSignal,
) {
  try {
    return await services.store.storeStream(body, { maxBytes: MAX_COPY_BYTES, signal, readBack: true })
  } catch (error) {
    if (error instanceof TooLargeError) throw new SourceError('too-large', messages.librarySentMoreThan2)
    if (signal.aborted || error instanceof SourceError) throw error
    throw new SourceError('down', messages.libraryBrokeOffInMiddle, {
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
    changes: messages.cutAndMixed,
  })
}
