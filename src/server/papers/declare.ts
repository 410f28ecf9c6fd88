import type { DeclarationInput } from '../../contract'
import { creditLine } from '../../core/credits'
import {
  CLAUSE_WORDS,
  type ClauseKey,
  type ClauseReading,
  clauseOf,
  OWN_WORK,
  openSentencesOn,
  type ProposedClause,
  RESTRICTIONS,
  readingsOfClause,
  TOO_MANY_OPEN,
} from '../../core/rights'
import { papers as messages } from '../../messages/server/papers'
import type { Services } from '../context'
import { inTransaction } from '../database/in-transaction'
import { type Db, nowIso } from '../database/open'
import { DomainError, notFound } from '../domain-error'
import { appendToLedger, sha256Of } from '../ledger/ledger'
import { getLicensee } from '../settings'
import type { HeldTerms } from '../terms/held-to-text'
import { knownTerms } from '../terms/known-terms'
import { isUnconfirmed } from '../terms/policy-key'
import type { ReadText } from '../terms/read-text'
import { storeTerms, termsOfRow } from '../terms/terms-store'

/**
 * Puts on record what the creator says of a sound that came by another way than a library: from where, whom, when, and under
 * which terms. "I do not know" gives an entry and no papers.
 *
 * @throws {DomainError} not-found, no-copy, bad-clauses.
 */
export async function declarePapers(
  { db, readText }: Pick<Services, 'db' | 'readText'>,
  soundId: number,
  said: DeclarationInput,
): Promise<void> {
  const { terms } = said
  const isFiled = terms.kind === 'filed' || terms.kind === 'unknown'
  const given = isFiled ? null : await termsOfDeclaration(terms, readText)
  await inTransaction(db, (trx) => declareIn(trx, soundId, said, given))
}

/** @param given Terms that are not on file yet. */
async function declareIn(db: Db, soundId: number, said: DeclarationInput, given: HeldTerms | null): Promise<void> {
  const sound = await db
    .selectFrom('sounds')
    .innerJoin('sources', 'sources.id', 'sounds.source_id')
    .leftJoin('analyses', 'analyses.sound_id', 'sounds.id')
    .select(['sounds.id', 'sounds.title', 'sounds.maker', 'sounds.source_id', 'sources.kind', 'analyses.audio_sha256'])
    .where('sounds.id', '=', soundId)
    .executeTakeFirst()
  if (!sound) throw notFound(messages.thisSound)
  if (sound.kind === 'library') throw new DomainError('from-library', messages.papersLibrarySoundComeWith)
  const { from, who, when, note, terms } = said
  const event = { soundId, title: sound.title, from, who, when, note, ...setAsideIn(terms) }
  if (terms.kind === 'unknown') {
    await appendToLedger(db, 'declared', { ...event, terms: null })
    return
  }
  if (!sound.audio_sha256) throw new DomainError('no-copy', messages.thisSoundHasNotBeen)
  const termsId =
    terms.kind === 'filed'
      ? await requireTerms(db, terms.termsId)
      : await storeTerms(db, sound.source_id, given as HeldTerms)
  await grantDeclared(db, {
    soundId,
    copySha256: sound.audio_sha256,
    termsId,
    title: titleOfDeclaration(said),
    event,
    acquiredOn: when,
    maker: who,
    address: from,
  })
}

/** Sentences that the creator has read and set aside, for the record. */
function setAsideIn(terms: DeclarationInput['terms']): { setAside?: string } {
  return terms.kind === 'text' && terms.setAside.length > 0 ? { setAside: terms.setAside.join('\n') } : {}
}

/** "Declared: from the maker's page, 2026-05-01". */
function titleOfDeclaration({ from, when }: DeclarationInput): string {
  return [messages.declared, from, when].filter(Boolean).join(', ')
}

async function requireTerms(db: Db, termsId: number): Promise<number> {
  const row = await db.selectFrom('terms').select(['id', 'key']).where('id', '=', termsId).executeTakeFirst()
  if (!row) throw notFound(messages.thisVersionOfTheTerms)
  if (isUnconfirmed(row.key)) throw new DomainError('bad-clauses', messages.confirmPointsThisPolicyFirst)
  return row.id
}

/** Terms as the creator says them: a licence that is built in, or a text with the clauses that were confirmed. @throws {DomainError} bad-clauses. */
export async function termsOfDeclaration(
  terms: Exclude<DeclarationInput['terms'], { kind: 'unknown' | 'filed' }>,
  readText: ReadText,
): Promise<HeldTerms> {
  if (terms.kind === 'known') return knownTerms(terms.spdxId)
  if (terms.kind === 'own')
    return { ...OWN_WORK, key: 'own', spdxId: null, url: null, duration: 'for-ever', misfitLabel: null }
  const { clauses, open } = await readText(terms.text)
  const confirmed = terms.confirmed.map((key) => confirmedClause(key, { clauses, open }, terms.setAside))
  // What the text restricts holds whether it was confirmed or not: a restriction cannot be left out.
  const restricted = clauses.filter(
    ({ key, answer }) => RESTRICTIONS.includes(key) && answer !== 'yes' && !terms.confirmed.includes(key),
  )
  const holds = confirmed.some(({ key, answer }) => key === 'duration' && answer === 'yes')
  const said = [terms.text, terms.confirmed.join(' '), ...terms.setAside].join('\n')
  return {
    key: `text-${sha256Of(said).slice(0, 16)}`,
    version: '1',
    title: terms.title || messages.termsAsGiven,
    shortTitle: messages.asGiven,
    spdxId: null,
    url: null,
    text: terms.text,
    duration: holds ? 'for-ever' : 'not-stated',
    readings: [...confirmed, ...restricted].flatMap(readingsOfClause),
    misfitLabel: null,
  }
}

/** @throws {DomainError} bad-clauses, when the text does not say so, or says something beside it that nobody has read. */
function confirmedClause(
  key: ClauseKey,
  { clauses, open }: ClauseReading,
  setAside: readonly string[],
): ProposedClause {
  const clause = clauses.find((one) => one.key === key)
  if (!clause) throw new DomainError('bad-clauses', messages.textSaysNothingPlainOn(CLAUSE_WORDS[key]))
  const unread =
    clause.answer === 'yes'
      ? openSentencesOn(key, open).find(({ quote }) => quote === TOO_MANY_OPEN || !setAside.includes(quote))
      : null
  if (unread) throw new DomainError('bad-clauses', messages.mayBearOnReadAnd(unread.quote, CLAUSE_WORDS[key]))
  return clause
}

function isAddress(text: string): boolean {
  return /^https?:\/\/[^\s]+$/.test(text)
}

/** Writes declared papers for a sound; what was declared before is taken back, and stays on record. */
export async function grantDeclared(
  db: Db,
  options: {
    soundId: number
    copySha256: string
    termsId: number
    title: string
    event: Record<string, string | number | null>
    /** Day on which the creator says it was acquired, YYYY-MM-DD; empty for today. */
    acquiredOn?: string
    /** From whom and from where, in the creator's words; they are credited. */
    maker?: string
    address?: string
    /** Text that they were declared after; empty for the folder, absent for what was said of the file itself. */
    after?: string
  },
): Promise<void> {
  const {
    soundId,
    copySha256,
    termsId,
    title,
    event,
    acquiredOn = '',
    maker = '',
    address = '',
    after = null,
  } = options
  const sound = await db
    .selectFrom('sound_rows')
    .select(['original_title', 'maker', 'source_name'])
    .where('id', '=', soundId)
    .executeTakeFirstOrThrow()
  const row = await db.selectFrom('terms').selectAll().where('id', '=', termsId).executeTakeFirstOrThrow()
  const owed = clauseOf(termsOfRow(row), 'credit').answer !== 'yes'
  const parts = {
    title: sound.original_title,
    maker: maker || sound.maker,
    sourceName: isAddress(address) ? '' : address || sound.source_name,
    pageUrl: isAddress(address) ? address : null,
    changes: messages.cutAndMixed,
  }
  const before = await db
    .updateTable('grants')
    .set({ taken_back_at: nowIso() })
    .where('sound_id', '=', soundId)
    .where('kind', '=', 'declared')
    .where('taken_back_at', 'is', null)
    .returning('id')
    .execute()
  const { id } = await db
    .insertInto('grants')
    .values({
      sound_id: soundId,
      copy_sha256: copySha256,
      terms_id: termsId,
      title,
      plan_from: null,
      plan_until: null,
      order_ref: `declared-${nowIso()}`,
      licensee: await getLicensee(db),
      credit_line: owed ? creditLine({ ...parts, licenceTitle: row.title, licenceUrl: row.url }) : null,
      acquired_at: acquiredOn === '' ? nowIso() : `${acquiredOn}T12:00:00.000Z`,
      kind: 'declared',
      declared_after: after,
      served_sha256: copySha256,
    })
    .returning('id')
    .executeTakeFirstOrThrow()
  const body = { ...event, grantId: id, copySha256, termsSha256: row.sha256, terms: row.title }
  const [replaced] = before
  if (replaced) await appendToLedger(db, 'corrected', { ...body, replaces: replaced.id })
  else await appendToLedger(db, 'declared', body)
}

/**
 * Takes declared papers back, or puts them into force again. They stay on record; those taken back count no more.
 *
 * @throws {DomainError} not-found, from-library, replaced (what was corrected does not come back beside the correction).
 */
export function takeBack(handle: Db, grantId: number, taken: boolean): Promise<void> {
  return inTransaction(handle, async (db) => {
    const grant = await db
      .selectFrom('grants')
      .select(['id', 'kind', 'title', 'sound_id'])
      .where('id', '=', grantId)
      .executeTakeFirst()
    if (!grant) throw notFound(messages.thesePapers)
    if (grant.kind !== 'declared') throw new DomainError('from-library', messages.papersThatCameFromLibrary)
    if (!taken) await requireNoSuccessor(db, grant)
    await db
      .updateTable('grants')
      .set({ taken_back_at: taken ? nowIso() : null })
      .where('id', '=', grantId)
      .execute()
    await appendToLedger(db, 'corrected', { grantId, grant: grant.title, takenBack: taken })
  })
}

async function requireNoSuccessor(db: Db, grant: { id: number; sound_id: number }): Promise<void> {
  const successor = await db
    .selectFrom('active_grants')
    .select('title')
    .where('sound_id', '=', grant.sound_id)
    .where('kind', '=', 'declared')
    .where('id', '!=', grant.id)
    .executeTakeFirst()
  if (successor) throw new DomainError('replaced', messages.thesePapersWereReplacedBy(successor.title))
}
