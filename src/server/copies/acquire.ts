import { creditLine } from '../../core/credits'
import { clauseOf, groundedClauses } from '../../core/rights'
import { nowIso } from '../database/open'
import { copyFileName } from '../files/file-name'
import { TooLargeError } from '../files/store'
import type { JobContext } from '../jobs/jobs'
import { appendToLedger, sha256Of } from '../ledger/ledger'
import { ProblemError } from '../problem-error'
import type { Services } from '../services'
import { licensee } from '../settings'
import { type ServedTerms, SourceError } from '../sources/connector'
import { analyseInto } from '../sources/mirror'
import { storeTerms } from '../sources/terms-store'

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
    .selectFrom('grants')
    .select(['copy_sha256', 'plan_until'])
    .where('sound_id', '=', soundId)
    .orderBy('id', 'desc')
    .executeTakeFirst()
  return held !== undefined && held.plan_until === planUntil && store.has(held.copy_sha256)
}

/**
 * Acquires a sound: terms as served today, the order, the file; then copy and papers in one transaction.
 *
 * Does nothing when the sound is here already under the plan that runs. Killed at any point it leaves the copy whole with
 * its papers, or nothing; the order key makes the library give the same order when it is asked again.
 */
export async function acquireSound(
  services: Services,
  soundId: number,
  { signal, report }: JobContext,
): Promise<string> {
  const { db } = services
  const sound = await db
    .selectFrom('sounds')
    .innerJoin('sources', 'sources.id', 'sounds.source_id')
    .select(['sounds.id', 'sounds.title', 'sounds.maker', 'sounds.external_id', 'sounds.page_url', 'sounds.source_id'])
    .select(['sources.name as source_name'])
    .select((eb) => eb.selectFrom('terms').select('key').whereRef('terms.id', '=', 'sounds.terms_id').as('terms_key'))
    .where('sounds.id', '=', soundId)
    .executeTakeFirst()
  if (!sound) throw new ProblemError(404, 'not-found', 'This sound is no longer in the catalogue.')
  const connector = services.connector(sound.source_id)
  report(0.05, 'Reading the terms as they stand today')
  const account = await connector.account(signal)
  const served = await connector.terms(sound.terms_key as string, signal)
  const orderKey = `good-thud-${sound.source_id}-${sound.external_id}-${account.planUntil ?? 'open'}`
  if (await isHere(services, soundId, account.planUntil)) return 'It is here already.'
  report(0.15, 'Ordering the file')
  const order = await connector.order(sound.external_id, orderKey, signal)
  report(0.3, 'Fetching the file')
  const stored = await takenIn(services, order.file.body, signal)
  report(0.7, 'Checking the file')
  await analyseInto(services, soundId, stored.sha256, order.file.mime, signal)
  const fileName = copyFileName({
    title: sound.title,
    maker: sound.maker,
    source: sound.source_name,
    ending: order.file.ending,
  })
  await db.transaction().execute(async (trx) => {
    const termsId = await storeTerms(trx, sound.source_id, served)
    await trx
      .insertInto('copies')
      .values({
        sha256: stored.sha256,
        size_bytes: stored.sizeBytes,
        mime: order.file.mime,
        file_name: fileName,
        created_at: nowIso(),
      })
      .onConflict((conflict) => conflict.doNothing())
      .execute()
    const grant = {
      sound_id: soundId,
      copy_sha256: stored.sha256,
      terms_id: termsId,
      title: order.title,
      plan_from: account.planFrom,
      plan_until: account.planUntil,
      order_ref: order.ref,
      licensee: await licensee(trx),
      credit_line: owedCredit(served, {
        title: sound.title,
        maker: sound.maker,
        sourceName: sound.source_name,
        pageUrl: sound.page_url,
      }),
      acquired_at: nowIso(),
    }
    const written = await trx
      .insertInto('grants')
      .values(grant)
      .onConflict((conflict) => conflict.columns(['sound_id', 'order_ref']).doNothing())
      .returning('id')
      .executeTakeFirst()
    if (written)
      await appendToLedger(trx, 'acquired', {
        grantId: written.id,
        source: sound.source_id,
        sound: sound.external_id,
        title: sound.title,
        maker: sound.maker,
        copySha256: grant.copy_sha256,
        termsSha256: sha256Of(served.text),
        grant: grant.title,
        planFrom: grant.plan_from,
        planUntil: grant.plan_until,
        order: grant.order_ref,
        licensee: grant.licensee,
        creditLine: grant.credit_line,
      })
    await trx.updateTable('sounds').set({ terms_id: termsId }).where('id', '=', soundId).execute()
  })
  return `Saved as “${fileName}”, with its papers.`
}

async function takenIn(services: Services, body: Parameters<Services['store']['takeIn']>[0], signal: AbortSignal) {
  try {
    return await services.store.takeIn(body, { maxBytes: MAX_COPY_BYTES, signal })
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
  return creditLine({ ...parts, licenceTitle: served.title, licenceUrl: served.url, changes: 'cut and mixed' })
}
