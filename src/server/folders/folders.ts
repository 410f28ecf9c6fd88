import { randomUUID } from 'node:crypto'
import fs from 'node:fs'
import path from 'node:path'
import { sql } from 'kysely'
import type { FolderInput, ProposalAnswer, ProposalWire, ReadingWire } from '../../contract'
import { contradictionOf, KNOWN_LICENCES, type LicenceReading, READING_VERSION } from '../../core/rights'
import { folders as messages } from '../../messages/server/folders'
import type { App, Services } from '../context'
import { isOneOf } from '../database/is-one-of'
import type { Db } from '../database/open'
import { DomainError, notFound } from '../domain-error'
import { isInside } from '../files/is-inside'
import { grantDeclared, termsOfDeclaration } from '../papers/declare'
import { storeTerms, termsOfRow } from '../terms/terms-store'
import { readNote } from './note-text'

/**
 * Makes a folder a source and begins to look through it.
 *
 * @param dataDir The folder of the application itself, which cannot be one.
 * @throws {DomainError} no-folder, own-data, already.
 */
export async function addFolder(app: App, input: FolderInput): Promise<{ id: string; jobId: number }> {
  const { db, store } = app
  const folder = await findRealFolder(input.path)
  const data = await fs.promises.realpath(store.dataDir)
  if (isInside(folder, data) || isInside(data, folder))
    throw new DomainError('own-data', messages.goodThudKeepsOwnFiles)
  const others = await db.selectFrom('sources').select(['name', 'folder_path']).where('kind', '=', 'folder').execute()
  // Also a folder above one that is watched: every file below would be there twice.
  const other = others.find(
    ({ folder_path }) => folder_path !== null && (isInside(folder, folder_path) || isInside(folder_path, folder)),
  )
  if (other) throw new DomainError('already', messages.thisFolderAndThatSource(other.name))
  const id = `folder-${randomUUID().slice(0, 8)}`
  const { defaultTerms } = input
  const terms = defaultTerms === null ? null : await termsOfDeclaration(defaultTerms, app.readText)
  await db.transaction().execute(async (trx) => {
    await trx
      .insertInto('sources')
      .values({
        id,
        name: input.name || path.basename(folder),
        about: folder,
        connected: 1,
        plan: '',
        kind: 'folder',
        folder_path: folder,
      })
      .execute()
    if (terms !== null) {
      const termsId = await storeTerms(trx, id, terms)
      await trx.updateTable('sources').set({ default_terms_id: termsId }).where('id', '=', id).execute()
    }
  })
  return { id, jobId: await enqueueScan(app, id) }
}

/** Queues a scan. @throws {DomainError} not-found. */
export async function enqueueScan({ db, jobs }: Pick<App, 'db' | 'jobs'>, id: string): Promise<number> {
  const source = await db
    .selectFrom('sources')
    .select('name')
    .where('id', '=', id)
    .where('kind', '=', 'folder')
    .executeTakeFirst()
  if (!source) throw notFound(messages.thisFolder)
  return (await jobs.enqueue('scan', id, messages.lookingThrough(source.name))).job.id
}

async function findRealFolder(input: string): Promise<string> {
  if (!path.isAbsolute(input)) throw new DomainError('no-folder', messages.writeWholePathFolderFrom)
  try {
    const folder = await fs.promises.realpath(input)
    if ((await fs.promises.stat(folder)).isDirectory()) return folder
  } catch (cause) {
    throw new DomainError('no-folder', messages.thereNoFolderOrCannot(input), { cause })
  }
  throw new DomainError('no-folder', messages.fileNameFolderThatLies(input))
}

/** Texts that were found beside files and wait for the creator. */
export async function listOpenProposals({ db, readText }: Pick<Services, 'db' | 'readText'>): Promise<ProposalWire[]> {
  const rows = await db
    .selectFrom('papers_proposals')
    .innerJoin('sources', 'sources.id', 'papers_proposals.source_id')
    .select(['papers_proposals.id', 'source_id', 'sources.name', 'path', 'text', 'reading_json'])
    .where('state', '=', 'open')
    .where('sources.kind', '!=', 'folder-removed')
    .orderBy('papers_proposals.id')
    .limit(200)
    .execute()
  return Promise.all(
    rows.map(async ({ id, source_id: sourceId, name, path: where, text, reading_json }) => ({
      id,
      sourceId,
      sourceName: name,
      path: where,
      text,
      soundCount: (await listFilesOfText(db, sourceId, where)).length,
      reading: readingWire(await currentReading({ db, readText }, { id, text, reading_json })),
    })),
  )
}

/** A reading as the interface shows it. */
export function readingWire({ licences, like, clauses, open }: LicenceReading): ReadingWire {
  const titleOf = (spdxId: string): string => KNOWN_LICENCES.get(spdxId)?.title ?? spdxId
  return {
    licences: licences.map((one) => ({ ...one, title: titleOf(one.spdxId) })),
    like: like && { title: titleOf(like.spdxId), added: [...like.added], missing: [...like.missing] },
    clauses: [...clauses],
    open: open.map(({ quote, keys }) => ({ quote, keys: [...keys] })),
  }
}

/** Reads unanswered texts again that were read in an earlier way: what was declared of their files is held against them. */
export async function readProposalsAgain({ db, readText }: Pick<Services, 'db' | 'readText'>): Promise<void> {
  const rows = await db
    .selectFrom('papers_proposals')
    .select(['id', 'text', 'reading_json'])
    .where('state', '=', 'open')
    .where(sql<boolean>`json_extract(reading_json, '$.version') IS NOT ${READING_VERSION}`)
    .execute()
  for (const row of rows) await currentReading({ db, readText }, row)
}

/** A reading that was stored by the way of reading of today; any other is made anew. */
async function currentReading(
  { db, readText }: Pick<Services, 'db' | 'readText'>,
  { id, text, reading_json }: { id: number; text: string; reading_json: string },
): Promise<LicenceReading> {
  const stored = JSON.parse(reading_json) as LicenceReading & { version?: number }
  if (stored.version === READING_VERSION) return stored
  const { reading } = await readNote(text, readText)
  const json = JSON.stringify({ version: READING_VERSION, ...reading })
  await db.updateTable('papers_proposals').set({ reading_json: json }).where('id', '=', id).execute()
  return reading
}

/**
 * Answers a proposal: its text becomes the papers of all files that it lay beside (of the one file whose tag it was), or it is put away.
 *
 * @throws {DomainError} not-found, bad-clauses.
 */
export async function answerProposal(
  { db, readText }: Pick<App, 'db' | 'readText'>,
  id: number,
  answer: ProposalAnswer,
): Promise<number> {
  const terms = answer.accept ? await termsOfDeclaration(answer.terms, readText) : null
  const words = await db.selectFrom('papers_proposals').select('text').where('id', '=', id).executeTakeFirst()
  const reading = terms && words ? (await readNote(words.text, readText)).reading : null
  return db.transaction().execute(async (trx) => {
    const row = await trx
      .selectFrom('papers_proposals')
      .selectAll()
      .where('id', '=', id)
      .where('state', '=', 'open')
      .executeTakeFirst()
    if (!row) throw notFound(messages.thisProposal)
    const state = answer.accept ? 'accepted' : 'put-away'
    await trx.updateTable('papers_proposals').set({ state }).where('id', '=', id).execute()
    if (terms === null || reading === null) return 0
    const termsId = await storeTerms(trx, row.source_id, terms)
    const files = await listFilesOfText(trx, row.source_id, row.path)
    const nearest = await withoutNearerWords(trx, files, { path: row.path, reading })
    for (const { sound_id: soundId, sha256 } of nearest)
      await grantDeclared(trx, {
        soundId,
        copySha256: sha256,
        termsId,
        title: messages.declaredAfter(row.path),
        after: row.path,
        event: { soundId, after: row.path, textSha256: row.sha256 },
      })
    return nearest.length
  })
}

interface FileOfText {
  readonly path: string
  readonly sound_id: number
  readonly sha256: string
}

/**
 * Files for which nothing nearer than a text was declared, whatever was answered first. What was said of a file and its own tag
 * contradicts gives way: whoever takes the tag takes that back.
 */
async function withoutNearerWords(
  db: Db,
  files: readonly FileOfText[],
  { path: text, reading }: { readonly path: string; readonly reading: LicenceReading },
): Promise<FileOfText[]> {
  const ids = files.map(({ sound_id }) => sound_id)
  const declared = await db
    .selectFrom('active_grants')
    .innerJoin('terms', 'terms.id', 'active_grants.terms_id')
    .selectAll('terms')
    .select(['sound_id', 'declared_after'])
    .where('kind', '=', 'declared')
    .where(isOneOf('sound_id', ids))
    .execute()
  return files.filter((file) =>
    declared.every(
      (grant) =>
        grant.sound_id !== file.sound_id ||
        nearness(grant.declared_after, file.path) <= nearness(text, file.path) ||
        (text === file.path && contradictionOf(termsOfRow(grant), reading) !== null),
    ),
  )
}

/** How near words stand to a file: said of it, in its own tag, in a text of its folder, of one above, of the whole folder. */
function nearness(after: string | null, file: string): number {
  if (after === null) return Number.POSITIVE_INFINITY
  if (after === '') return 0
  if (after === file) return Number.MAX_SAFE_INTEGER
  return path.dirname(after) === '.' ? 1 : path.dirname(after).split(path.sep).length + 1
}

/** Files that a text speaks of: the file whose tag it was, or all in its folder and below. */
async function listFilesOfText(db: Db, sourceId: string, where: string): Promise<FileOfText[]> {
  const files = await db
    .selectFrom('folder_files')
    .select(['path', 'sound_id', 'sha256'])
    .where('source_id', '=', sourceId)
    .execute()
  const own = files.filter((file) => file.path === where)
  if (own.length > 0) return own
  const folder = path.dirname(where)
  return files.filter((file) => folder === '.' || file.path.startsWith(`${folder}${path.sep}`))
}
