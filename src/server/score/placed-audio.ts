import { audioKey, type PlacedAudio } from '../../core/score'
import { score as messages } from '../../messages/server/score'
import type { Services } from '../context'
import type { Db } from '../database/open'
import { DomainError } from '../domain-error'

/** Hash of the stored file that a placement is heard from; null where there is none. */
export async function placedSha256(db: Db, audio: PlacedAudio): Promise<string | null> {
  if (audio.kind === 'copy') return audio.sha256
  const row = await db
    .selectFrom('analyses')
    .select('audio_sha256')
    .where('sound_id', '=', audio.soundId)
    .executeTakeFirst()
  return row?.audio_sha256 ?? null
}

/** Path of the stored file that a placement is heard from. @throws {DomainError} not-found. */
export async function requirePlacedFile(
  { db, store }: Pick<Services, 'db' | 'store'>,
  audio: PlacedAudio,
): Promise<string> {
  const sha256 = await placedSha256(db, audio)
  if (sha256 === null || !store.has(sha256))
    throw new DomainError('not-found', messages.audioNotHere(await placedTitle(db, audio)))
  return store.blobPath(sha256)
}

/** What a placed sound is called. */
export async function placedTitle(db: Db, { soundId }: PlacedAudio): Promise<string> {
  if (soundId === null) return messages.fileThatNotHereAny
  const row = await db.selectFrom('sound_rows').select('shown_title').where('id', '=', soundId).executeTakeFirst()
  return row?.shown_title ?? messages.soundThatNotHereAny
}

/**
 * Which of some stored files are copies that may go out: those that were acquired, and the creator's own. A preview is there to be tried, and other
 * stored files, as evidence, are no sounds at all.
 */
export async function findCopies(db: Db, sha256s: readonly string[]): Promise<ReadonlySet<string>> {
  if (sha256s.length === 0) return new Set()
  const wanted = [...new Set(sha256s)]
  const acquired = await db.selectFrom('copies').select('sha256').where('sha256', 'in', wanted).execute()
  const own = await db
    .selectFrom('analyses')
    .innerJoin('sound_rows', 'sound_rows.id', 'analyses.sound_id')
    .select('analyses.audio_sha256 as sha256')
    .where('analyses.audio_sha256', 'in', wanted)
    .where('sound_rows.source_kind', '!=', 'library')
    .execute()
  return new Set([...acquired, ...own].flatMap(({ sha256 }) => (sha256 === null ? [] : [sha256])))
}

/** Name of the file that is placed: a copy has its own, a preview the title of its sound. */
export async function fileNameOf(db: Db, audio: PlacedAudio, title: string | undefined): Promise<string> {
  const copy =
    audio.kind === 'copy'
      ? await db.selectFrom('copies').select('file_name').where('sha256', '=', audio.sha256).executeTakeFirst()
      : undefined
  return copy?.file_name ?? (title ? messages.preview(title) : audioKey(audio))
}
