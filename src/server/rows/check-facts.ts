import { CheckFactsSchema } from '../../contract'
import { type CheckFacts, fileLengthS } from '../../core/clearance'
import { canonicalJson, type Json } from '../../core/ledger'
import { rows as messages } from '../../messages/server/rows'
import { type Db, nowIso } from '../database/open'
import { notFound } from '../domain-error'
import { sha256Of } from '../ledger/ledger'

/**
 * Writes the facts of a check down, once and whole, and makes them the newest of that check.
 *
 * @param trx A transaction. @returns SHA-256 of their canonical JSON.
 */
export async function storeFacts(trx: Db, checkId: number, facts: CheckFacts): Promise<string> {
  const json = canonicalJson(CheckFactsSchema.parse(facts) as unknown as Json)
  const sha256 = sha256Of(json)
  await trx
    .insertInto('check_facts')
    .values({
      sha256,
      check_id: checkId,
      carries_on: facts.carriesOn,
      place_count: facts.detections.length,
      created_at: nowIso(),
      json,
    })
    .onConflict((conflict) => conflict.doNothing())
    .execute()
  const film = { has_picture: facts.file.hasPicture ? 1 : 0, duration_s: fileLengthS(facts) }
  await trx
    .updateTable('checks')
    .set({ facts_sha256: sha256, ...film })
    .where('id', '=', checkId)
    .execute()
  return sha256
}

/** @throws Error when they are not there or are not the ones of that hash. */
export async function getFacts(db: Db, sha256: string): Promise<CheckFacts> {
  const row = await db.selectFrom('check_facts').select('json').where('sha256', '=', sha256).executeTakeFirst()
  if (!row || sha256Of(row.json) !== sha256) throw new Error(`The facts ${sha256} are not as they were written.`)
  // They were checked when they were written, and the hash says that they are the ones.
  return JSON.parse(row.json) as CheckFacts
}

/** The newest file of a video, the newest finished check of it, and whether one is under way. */
export interface CurrentCheck {
  readonly checkId: number | null
  readonly factsSha256: string | null
  readonly isChecking: boolean
}

/** What the state of a video rests on: the newest file alone. A check of an earlier file says nothing of it. */
export async function findCurrentCheck(db: Db, videoId: number): Promise<CurrentCheck> {
  const rows = await db
    .selectFrom('checks')
    .select(['checks.id', 'checks.state', 'checks.facts_sha256'])
    .where('checks.export_id', '=', (eb) =>
      eb
        .selectFrom('exports')
        .select((one) => one.fn.max('exports.id').as('id'))
        .where('exports.video_id', '=', videoId)
        .where('exports.removed_at', 'is', null),
    )
    .where('checks.removed_at', 'is', null)
    .orderBy('checks.id', 'desc')
    .execute()
  const done = rows.find(({ state, facts_sha256 }) => state === 'done' && facts_sha256 !== null)
  return {
    checkId: done?.id ?? null,
    factsSha256: done?.facts_sha256 ?? null,
    isChecking: rows.some(({ state }) => state === 'waiting' || state === 'running'),
  }
}

/** Length of the newest checked file of a video, s; null while there is none. */
export async function findVideoLengthS(db: Db, videoId: number): Promise<number | null> {
  const { factsSha256 } = await findCurrentCheck(db, videoId)
  return factsSha256 === null ? null : fileLengthS(await getFacts(db, factsSha256))
}

/** The facts of a check as they were written, byte for byte. @throws {DomainError} not-found. */
export async function getFactsText(
  db: Db,
  checkId: number,
): Promise<{ readonly sha256: string; readonly json: string }> {
  const row = await db
    .selectFrom('checks')
    .innerJoin('check_facts', 'check_facts.sha256', 'checks.facts_sha256')
    .select(['check_facts.json', 'check_facts.sha256'])
    .where('checks.id', '=', checkId)
    .executeTakeFirst()
  if (!row) throw notFound(messages.theFactsOfThisCheck)
  return row
}
