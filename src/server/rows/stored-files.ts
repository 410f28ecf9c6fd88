import { rows as messages } from '../../messages/server/rows'
import type { Db } from '../database/open'
import { notFound } from '../domain-error'

/** Where a stored file is by its content, and what it is. */
export interface NamedFile {
  readonly sha256: string
  readonly mime: string
  readonly fileName: string
}

/** A finished video. @throws {DomainError} not-found. */
export async function getExportFile(db: Db, id: number): Promise<NamedFile> {
  const row = await db
    .selectFrom('exports')
    .select(['sha256', 'mime', 'file_name as fileName'])
    .where('id', '=', id)
    .executeTakeFirst()
  if (!row) throw notFound(messages.thisFile)
  return row
}

/** A rough cut. @throws {DomainError} not-found. */
export async function getCutFile(db: Db, id: number): Promise<NamedFile> {
  const row = await db
    .selectFrom('cuts')
    .select(['sha256', 'mime', 'file_name as fileName'])
    .where('id', '=', id)
    .executeTakeFirst()
  if (!row) throw notFound(messages.thisCut)
  return row
}

/** What is heard of a sound: its copy when it is here, else its preview. @throws {DomainError} not-found. */
export async function getSoundAudio(db: Db, soundId: number): Promise<Omit<NamedFile, 'fileName'>> {
  const row = await db
    .selectFrom('analyses')
    .select(['audio_sha256 as sha256', 'audio_mime as mime'])
    .where('sound_id', '=', soundId)
    .executeTakeFirst()
  if (!row) throw notFound(messages.theAudioOfThisSound)
  return row
}

/** An evidence file. @throws {DomainError} not-found. */
export async function getEvidenceFile(db: Db, id: number): Promise<NamedFile> {
  const row = await db
    .selectFrom('evidence')
    .select(['sha256', 'mime', 'file_name as fileName'])
    .where('id', '=', id)
    .executeTakeFirst()
  if (!row) throw notFound(messages.thisFile)
  return row
}

/** A copy under its sensible name. @throws {DomainError} not-found. */
export async function getCopyFile(db: Db, sha256: string): Promise<NamedFile> {
  const row = await db
    .selectFrom('copies')
    .select(['sha256', 'mime', 'file_name as fileName'])
    .where('sha256', '=', sha256)
    .executeTakeFirst()
  if (!row) throw notFound(messages.thisCopy)
  return row
}
