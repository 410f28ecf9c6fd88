import { existsSync } from 'node:fs'
import type { Json, LedgerEntry } from '../../core/ledger'
import type { Db } from '../database/db'
import { hashFile } from '../files/hash-file'
import type { FileStore } from '../files/store'
import { readingSha256, readLedger, sha256Of } from './ledger'

/** Something in the tables or on disk that is not as the ledger says. */
export interface LedgerMismatch {
  readonly what: 'terms' | 'papers' | 'record' | 'evidence' | 'facts' | 'answer' | 'file'
  /** How it differs: changed, gone, or there without an entry. */
  readonly how: 'changed' | 'removed' | 'added'
  /** A whole sentence that names it. */
  readonly sentence: string
}

type Body = Readonly<Record<string, Json>>

/** What the entries say of one grant. */
interface EnteredGrant {
  readonly copySha256: Json
  readonly termsSha256: Json
  readonly planFrom: Json
  readonly planUntil: Json
  readonly title: string
  isTakenBack: boolean
}

/**
 * Plays the ledger against the tables and the stored files: every version of terms, grant, record for a video, piece of evidence, set of
 * facts and answer has its entry and is as it was entered, and every entry has its row. Reads what it names and nothing else.
 */
export async function replayLedger({
  db,
  store,
}: {
  readonly db: Db
  readonly store: Pick<FileStore, 'blobPath'>
}): Promise<LedgerMismatch[]> {
  const entries = await readLedger(db)
  return [
    ...(await termsMismatches(db, entries)),
    ...(await grantMismatches(db, entries)),
    ...(await recordMismatches(db, entries)),
    ...(await evidenceMismatches(db, entries)),
    ...(await factsMismatches(db, entries)),
    ...(await answerMismatches(db, entries)),
    ...(await fileMismatches(db, store)),
  ]
}

function bodiesOf(entries: readonly LedgerEntry[], kinds: readonly LedgerEntry['kind'][]): Body[] {
  return entries.filter(({ kind }) => kinds.includes(kind)).map(({ body }) => body as Body)
}

async function termsMismatches(db: Db, entries: readonly LedgerEntry[]): Promise<LedgerMismatch[]> {
  const seen = new Map(bodiesOf(entries, ['terms-seen']).map((body) => [body.termsId, body]))
  const readings = new Map(
    bodiesOf(entries, ['terms-seen', 'terms-read-again'])
      .filter(({ readingSha256: sha256 }) => sha256 !== undefined)
      .map((body) => [body.termsId, body.readingSha256]),
  )
  const rows = await db.selectFrom('terms').selectAll().execute()
  const ids = new Set<Json | undefined>(rows.map(({ id }) => id))
  const mismatch = (how: LedgerMismatch['how'], sentence: string): LedgerMismatch => ({ what: 'terms', how, sentence })
  return [
    ...rows.flatMap((row) => {
      const name = `Terms ${row.id}, “${row.title}” version ${row.version}`
      const entry = seen.get(row.id)
      if (!entry) return [mismatch('added', `${name}, have no entry.`)]
      if (sha256Of(row.text) !== row.sha256 || row.sha256 !== entry.sha256)
        return [mismatch('changed', `${name}: the text is not the one that was seen.`)]
      const reading = readings.get(row.id)
      return reading !== undefined && reading !== readingSha256(JSON.parse(row.clauses_json), row.duration)
        ? [mismatch('changed', `${name}: what they allow is not what was read from their text.`)]
        : []
    }),
    ...[...seen].flatMap(([id, body]) =>
      ids.has(id) ? [] : [mismatch('removed', `Terms ${id}, “${body.title}”, are gone.`)],
    ),
  ]
}

/** What the entries come to for each grant, the last word counting. */
function enteredGrants(entries: readonly LedgerEntry[]): Map<Json | undefined, EnteredGrant> {
  const grants = new Map<Json | undefined, EnteredGrant>()
  for (const body of bodiesOf(entries, ['acquired', 'declared', 'corrected'])) {
    const known = grants.get(body.grantId)
    if (body.copySha256 !== undefined)
      grants.set(body.grantId, {
        copySha256: body.copySha256,
        termsSha256: body.termsSha256 ?? null,
        planFrom: body.planFrom ?? null,
        planUntil: body.planUntil ?? null,
        title: String(body.grant ?? body.title ?? body.grantId),
        isTakenBack: false,
      })
    else if (known && typeof body.takenBack === 'boolean') known.isTakenBack = body.takenBack
    const replaced = grants.get(body.replaces)
    if (replaced) replaced.isTakenBack = true
  }
  return grants
}

async function grantMismatches(db: Db, entries: readonly LedgerEntry[]): Promise<LedgerMismatch[]> {
  const entered = enteredGrants(entries)
  const rows = await db
    .selectFrom('grants')
    .innerJoin('terms', 'terms.id', 'grants.terms_id')
    .selectAll('grants')
    .select('terms.sha256 as terms_sha256')
    .execute()
  const ids = new Set<Json | undefined>(rows.map(({ id }) => id))
  const mismatch = (how: LedgerMismatch['how'], sentence: string): LedgerMismatch => ({ what: 'papers', how, sentence })
  return [
    ...rows.flatMap((row) => {
      const name = `Papers ${row.id}, “${row.title}”`
      const entry = entered.get(row.id)
      if (!entry) return [mismatch('added', `${name}, have no entry.`)]
      if (entry.copySha256 !== row.copy_sha256) return [mismatch('changed', `${name}: they are for another file.`)]
      if (entry.termsSha256 !== row.terms_sha256) return [mismatch('changed', `${name}: they are under other terms.`)]
      if (entry.planFrom !== row.plan_from || entry.planUntil !== row.plan_until)
        return [mismatch('changed', `${name}: the period of the plan is another one.`)]
      return entry.isTakenBack === (row.taken_back_at !== null)
        ? []
        : [
            mismatch(
              'changed',
              `${name}: ${entry.isTakenBack ? 'they were taken back, and count' : 'they count, and are marked as taken back'}.`,
            ),
          ]
    }),
    ...[...entered].flatMap(([id, { title }]) =>
      ids.has(id) ? [] : [mismatch('removed', `Papers ${id}, “${title}”, are gone.`)],
    ),
  ]
}

/** Records that papers are for a video, or that a duty was met for it. */
async function recordMismatches(db: Db, entries: readonly LedgerEntry[]): Promise<LedgerMismatch[]> {
  const keyOf = (grant: unknown, video: unknown, point: unknown): string => `${grant} ${video} ${point}`
  const bodies = bodiesOf(entries, ['declared', 'settled']).filter(({ videoId }) => videoId !== undefined)
  const entered = new Set(bodies.map((body) => keyOf(body.grantId, body.videoId, body.point)))
  const rows = await db.selectFrom('grant_videos').selectAll().execute()
  return rows.flatMap(({ grant_id, video_id, key }): LedgerMismatch[] =>
    entered.has(keyOf(grant_id, video_id, key))
      ? []
      : [
          {
            what: 'record',
            how: 'added',
            sentence: `That papers ${grant_id} are for video ${video_id} (${key}) has no entry.`,
          },
        ],
  )
}

async function evidenceMismatches(db: Db, entries: readonly LedgerEntry[]): Promise<LedgerMismatch[]> {
  const keyOf = (grant: unknown, sha256: unknown): string => `${grant} ${sha256}`
  const bodies = bodiesOf(entries, ['receipt'])
  const entered = new Set(bodies.map((body) => keyOf(body.grantId, body.sha256)))
  const rows = await db.selectFrom('evidence').selectAll().execute()
  const there = new Set(rows.map((row) => keyOf(row.grant_id, row.sha256)))
  const mismatch = (how: LedgerMismatch['how'], sentence: string): LedgerMismatch => ({
    what: 'evidence',
    how,
    sentence,
  })
  return [
    ...rows.flatMap((row) =>
      entered.has(keyOf(row.grant_id, row.sha256))
        ? []
        : [mismatch('added', `“${row.file_name}” of papers ${row.grant_id} has no entry.`)],
    ),
    ...bodies.flatMap((body) =>
      there.has(keyOf(body.grantId, body.sha256))
        ? []
        : [mismatch('removed', `“${body.fileName}” of papers ${body.grantId} is gone.`)],
    ),
  ]
}

async function factsMismatches(db: Db, entries: readonly LedgerEntry[]): Promise<LedgerMismatch[]> {
  const entered = new Set(bodiesOf(entries, ['checked']).map(({ factsSha256 }) => factsSha256))
  const rows = await db.selectFrom('check_facts').select(['sha256', 'json']).execute()
  return rows.flatMap(({ sha256, json }): LedgerMismatch[] => {
    const name = `The facts ${sha256.slice(0, 12)} of a check`
    if (sha256Of(json) !== sha256)
      return [{ what: 'facts', how: 'changed', sentence: `${name} are not those that were written.` }]
    return entered.has(sha256) ? [] : [{ what: 'facts', how: 'added', sentence: `${name} have no entry.` }]
  })
}

async function answerMismatches(db: Db, entries: readonly LedgerEntry[]): Promise<LedgerMismatch[]> {
  const isUndone = new Map<Json | undefined, boolean>()
  for (const { kind, body } of entries)
    if (kind === 'answered' || kind === 'answer-undone') isUndone.set((body as Body).answerId, kind === 'answer-undone')
  const rows = await db.selectFrom('point_answers').select(['id', 'point_kind', 'by_name', 'undone_at']).execute()
  return rows.flatMap(({ id, point_kind, by_name, undone_at }): LedgerMismatch[] => {
    const name = `Answer ${id} by ${by_name} (${point_kind})`
    const entered = isUndone.get(id)
    if (entered === undefined) return [{ what: 'answer', how: 'added', sentence: `${name} has no entry.` }]
    return entered === (undone_at !== null)
      ? []
      : [
          {
            what: 'answer',
            how: 'changed',
            sentence: `${name} ${entered ? 'was undone, and counts' : 'counts, and is marked as undone'}.`,
          },
        ]
  })
}

/** Files that papers rest on: copies and evidence, by their own hashes. */
async function fileMismatches(db: Db, store: Pick<FileStore, 'blobPath'>): Promise<LedgerMismatch[]> {
  const copies = await db
    .selectFrom('active_grants')
    .innerJoin('copies', 'copies.sha256', 'active_grants.copy_sha256')
    .select(['copies.sha256', 'copies.file_name'])
    .distinct()
    .execute()
  const evidence = await db.selectFrom('evidence').select(['sha256', 'file_name']).distinct().execute()
  const out: LedgerMismatch[] = []
  for (const { sha256, file_name } of [...copies, ...evidence]) {
    const file = store.blobPath(sha256)
    if (!existsSync(file)) out.push({ what: 'file', how: 'removed', sentence: `The file “${file_name}” is gone.` })
    else if ((await hashFile(file)) !== sha256)
      out.push({ what: 'file', how: 'changed', sentence: `The file “${file_name}” was changed.` })
  }
  return out
}
