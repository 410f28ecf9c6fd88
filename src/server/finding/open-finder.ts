import fs from 'node:fs'
import path from 'node:path'
import { sql } from 'kysely'
import type { Db } from '../database/open'
import { SoundFinder } from './sound-finder'

/** Longest vocabulary of the creator's own that is read, bytes. */
export const OWN_VOCABULARY_MAX_BYTES = 200_000

/** The creator's own lines lie beside the database, where they can be edited and copied. */
export function ownVocabularyPath(dataDir: string): string {
  return path.join(dataDir, 'vocabulary.txt')
}

/** The shipped vocabulary and the creator's own lines behind it. @param nodeDir Folder of the built worker, where it is copied to. */
export function vocabularyText({ dataDir, nodeDir }: { dataDir: string; nodeDir: string }): string {
  const shipped = fs.readFileSync(path.join(nodeDir, 'sounds.txt'), 'utf8')
  return `${shipped}\n${ownVocabulary(dataDir)}`
}

/** Empty while there is none. */
export function ownVocabulary(dataDir: string): string {
  const file = ownVocabularyPath(dataDir)
  if (!fs.existsSync(file) || fs.statSync(file).size > OWN_VOCABULARY_MAX_BYTES) return ''
  return fs.readFileSync(file, 'utf8')
}

/** Another process may still follow the log of changes: so much of it stays. */
const CHANGES_KEPT = 200_000

/** The search over a database that is at the newest schema. */
export async function openFinder(db: Db, options: { dataDir: string; nodeDir: string }): Promise<SoundFinder> {
  await db
    .deleteFrom('find_changes')
    .where('number', '<', sql<number>`(SELECT max(number) FROM find_changes) - ${CHANGES_KEPT}`)
    .execute()
  return new SoundFinder(options.nodeDir, { dataDir: options.dataDir, vocabulary: vocabularyText(options) })
}
