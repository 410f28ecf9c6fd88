import { existsSync } from 'node:fs'
import { canonicalJson, type Json, type LedgerEntry } from '../../core/ledger'
import { ledger as messages } from '../../messages/server/ledger'
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
  signal,
  report = () => {},
}: {
  readonly db: Db
  /** Null where the files are looked through by other means. */
  readonly store: Pick<FileStore, 'blobPath'> | null
  readonly signal?: AbortSignal
  /** Called with what was gone through, 0 to 1. */
  readonly report?: (fraction: number) => void
}): Promise<LedgerMismatch[]> {
  const entries = await readLedger(db)
  return [
    ...(await termsMismatches(db, entries)),
    ...(await grantMismatches(db, entries)),
    ...(await recordMismatches(db, entries)),
    ...(await evidenceMismatches(db, entries)),
    ...(await factsMismatches(db, entries)),
    ...(await answerMismatches(db, entries)),
    ...(store ? await fileMismatches(db, store, { signal, report }) : []),
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
      const name = messages.termsVersion(row.id, row.title, row.version)
      const entry = seen.get(row.id)
      if (!entry) return [mismatch('added', messages.haveNoEntry(name))]
      if (sha256Of(row.text) !== row.sha256 || row.sha256 !== entry.sha256)
        return [mismatch('changed', messages.textNotOneThatWas(name))]
      const reading = readings.get(row.id)
      return reading !== undefined && reading !== readingSha256(JSON.parse(row.clauses_json), row.duration)
        ? [mismatch('changed', messages.whatTheyAllowNotWhat(name))]
        : []
    }),
    ...[...seen].flatMap(([id, body]) =>
      ids.has(id) ? [] : [mismatch('removed', messages.termsAreGone(id, body.title))],
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
      const name = messages.papers(row.id, row.title)
      const entry = entered.get(row.id)
      if (!entry) return [mismatch('added', messages.haveNoEntry(name))]
      if (entry.copySha256 !== row.copy_sha256) return [mismatch('changed', messages.theyAreForAnotherFile(name))]
      if (entry.termsSha256 !== row.terms_sha256) return [mismatch('changed', messages.theyAreUnderOtherTerms(name))]
      if (entry.planFrom !== row.plan_from || entry.planUntil !== row.plan_until)
        return [mismatch('changed', messages.periodPlanAnotherOne(name))]
      return entry.isTakenBack === (row.taken_back_at !== null)
        ? []
        : [
            mismatch(
              'changed',
              `${name}: ${entry.isTakenBack ? messages.theyWereTakenBackAnd : messages.theyCountAndAreMarked}.`,
            ),
          ]
    }),
    ...[...entered].flatMap(([id, { title }]) =>
      ids.has(id) ? [] : [mismatch('removed', messages.papersAreGone(id, title))],
    ),
  ]
}

/** Records that papers are for a video, or that a duty was met for it. */
async function recordMismatches(db: Db, entries: readonly LedgerEntry[]): Promise<LedgerMismatch[]> {
  const keyOf = (grant: unknown, video: unknown, point: unknown): string => `${grant} ${video} ${point}`
  const bodies = bodiesOf(entries, ['declared', 'settled']).filter(({ point }) => point !== undefined)
  const entered = new Map(bodies.map((body) => [keyOf(body.grantId, body.videoId, body.point), body]))
  const { videos } = clearedAway(entries)
  const rows = await db.selectFrom('grant_videos').selectAll().execute()
  const there = new Set(rows.map(({ grant_id, video_id, key }) => keyOf(grant_id, video_id, key)))
  const mismatch = (how: LedgerMismatch['how'], body: Body, ends: string): LedgerMismatch => ({
    what: 'record',
    how,
    sentence: `That papers ${body.grantId} are for video ${body.videoId} (${body.point}) ${ends}`,
  })
  return [
    ...rows.flatMap(({ grant_id, video_id, key }) =>
      entered.has(keyOf(grant_id, video_id, key))
        ? []
        : [mismatch('added', { grantId: grant_id, videoId: video_id, point: key }, messages.hasNoEntry)],
    ),
    ...[...entered].flatMap(([key, body]) =>
      there.has(key) || videos.has(body.videoId) ? [] : [mismatch('removed', body, messages.isGone)],
    ),
  ]
}

/** Ids of what was cleared away long after it was removed: it is rightly gone. */
function clearedAway(
  entries: readonly LedgerEntry[],
): Readonly<Record<'videos' | 'checks', ReadonlySet<Json | undefined>>> {
  const bodies = bodiesOf(entries, ['cleared-away'])
  const idsOf = (kind: 'videos' | 'checks') =>
    new Set(bodies.flatMap((body) => (Array.isArray(body[kind]) ? (body[kind] as readonly Json[]) : [])))
  return { videos: idsOf('videos'), checks: idsOf('checks') }
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
        : [mismatch('added', messages.ofPapersHasNoEntry(row.file_name, row.grant_id))],
    ),
    ...bodies.flatMap((body) =>
      there.has(keyOf(body.grantId, body.sha256))
        ? []
        : [mismatch('removed', messages.ofPapersIsGone(body.fileName, body.grantId))],
    ),
  ]
}

/** Facts, and which of them each check shows: those of its last entry. */
async function factsMismatches(db: Db, entries: readonly LedgerEntry[]): Promise<LedgerMismatch[]> {
  const bodies = bodiesOf(entries, ['checked'])
  const entered = new Map(bodies.map((body) => [body.factsSha256, body]))
  const lastOf = new Map(bodies.map((body) => [body.checkId, body.factsSha256]))
  const { checks } = clearedAway(entries)
  const rows = await db.selectFrom('check_facts').select(['sha256', 'json']).execute()
  const there = new Set<Json | undefined>(rows.map(({ sha256 }) => sha256))
  const shown = await db
    .selectFrom('checks')
    .select(['id', 'facts_sha256'])
    .where('facts_sha256', 'is not', null)
    .execute()
  const mismatch = (how: LedgerMismatch['how'], sentence: string): LedgerMismatch => ({ what: 'facts', how, sentence })
  const named = (sha256: unknown): string => messages.theFactsOfACheck(String(sha256).slice(0, 12))
  return [
    ...rows.flatMap(({ sha256, json }) => {
      if (sha256Of(json) !== sha256) return [mismatch('changed', messages.areNotThoseThatWere(named(sha256)))]
      return entered.has(sha256) ? [] : [mismatch('added', messages.haveNoEntry2(named(sha256)))]
    }),
    ...[...entered].flatMap(([sha256, { checkId }]) =>
      there.has(sha256) || checks.has(checkId) ? [] : [mismatch('removed', messages.areGone(named(sha256)))],
    ),
    ...shown.flatMap(({ id, facts_sha256 }) =>
      lastOf.get(id) === facts_sha256 ? [] : [mismatch('changed', messages.checkShowsOtherFactsThan(id))],
    ),
  ]
}

async function answerMismatches(db: Db, entries: readonly LedgerEntry[]): Promise<LedgerMismatch[]> {
  const given = new Map<Json | undefined, Body>()
  const isUndone = new Map<Json | undefined, boolean>()
  for (const { kind, body } of entries) {
    const { answerId, answer } = body as Body
    if (answerId === undefined || (kind !== 'answered' && kind !== 'answer-undone')) continue
    if (answer !== undefined) given.set(answerId, body as Body)
    isUndone.set(answerId, kind === 'answer-undone')
  }
  const { videos } = clearedAway(entries)
  const rows = await db.selectFrom('point_answers').selectAll().execute()
  const there = new Set<Json | undefined>(rows.map(({ id }) => id))
  const mismatch = (how: LedgerMismatch['how'], sentence: string): LedgerMismatch => ({ what: 'answer', how, sentence })
  return [
    ...rows.flatMap((row) => {
      const name = `Answer ${row.id} by ${row.by_name} (${row.point_kind})`
      const entry = given.get(row.id)
      if (!entry) return [mismatch('added', messages.hasNoEntry2(name))]
      const said = [
        row.point_kind,
        row.kind,
        row.from_sound_id,
        row.reason,
        row.by_name,
        row.track_index,
        row.file_sha256,
      ]
      const { point, answer, fromSoundId, reason, by, track, fileSha256, places } = entry
      const isSame =
        canonicalJson([...said, JSON.parse(row.places_json) as Json]) ===
        canonicalJson([point, answer, fromSoundId, reason, by, track, fileSha256, places].map((one) => one ?? null))
      if (!isSame) return [mismatch('changed', messages.notAsWasGiven(name))]
      const undone = isUndone.get(row.id)
      return undone === (row.undone_at !== null)
        ? []
        : [mismatch('changed', undone ? messages.undoneAndCounts(name) : messages.countsAndIsUndone(name))]
    }),
    ...[...given].flatMap(([id, { videoId, by, point }]) =>
      there.has(id) || videos.has(videoId) ? [] : [mismatch('removed', `Answer ${id} by ${by} (${point}) is gone.`)],
    ),
  ]
}

/** Files that papers rest on: copies and evidence, by their own hashes. */
async function fileMismatches(
  db: Db,
  store: Pick<FileStore, 'blobPath'>,
  { signal, report }: { readonly signal: AbortSignal | undefined; readonly report: (fraction: number) => void },
): Promise<LedgerMismatch[]> {
  const copies = await db
    .selectFrom('active_grants')
    .innerJoin('copies', 'copies.sha256', 'active_grants.copy_sha256')
    .select(['copies.sha256', 'copies.file_name'])
    .distinct()
    .execute()
  const evidence = await db.selectFrom('evidence').select(['sha256', 'file_name']).distinct().execute()
  const out: LedgerMismatch[] = []
  const files = [...copies, ...evidence]
  for (const [index, { sha256, file_name }] of files.entries()) {
    signal?.throwIfAborted()
    report(index / files.length)
    const file = store.blobPath(sha256)
    if (!existsSync(file)) out.push({ what: 'file', how: 'removed', sentence: messages.theFileIsGone(file_name) })
    else if ((await hashFile(file)) !== sha256)
      out.push({ what: 'file', how: 'changed', sentence: messages.theFileWasChanged(file_name) })
  }
  return out
}
