import type { Damage } from '../../contract'
import { doctor as messages } from '../../messages/server/doctor'
import type { Db } from '../database/db'

/** What a stored file is, and what brings it back when it is lost. */
export interface FileDescription {
  readonly name: string
  readonly repair: Damage['repair']
}

/** What a stored file is there for, by the first that names it. */
export async function describeFile(db: Db, sha256: string): Promise<FileDescription> {
  const evidence = await db.selectFrom('evidence').select('file_name').where('sha256', '=', sha256).executeTakeFirst()
  if (evidence) return { name: messages.theEvidence(evidence.file_name), repair: 'restore' }
  const own = await findOwnFile(db, sha256)
  if (own) return { name: messages.yourFile(own), repair: 'read again' }
  const granted = await findGranted(db, sha256)
  if (granted) return { name: messages.theCopyOf(granted.title), repair: granted.isLibrary ? 'fetch again' : 'restore' }
  const video = await db.selectFrom('exports').select('file_name').where('sha256', '=', sha256).executeTakeFirst()
  if (video) return { name: messages.theFinishedVideo(video.file_name), repair: 'restore' }
  const cut = await findCut(db, sha256)
  if (cut) return { name: cut, repair: 'restore' }
  const mix = await db.selectFrom('mix_files').select('name').where('sha256', '=', sha256).executeTakeFirst()
  if (mix) return { name: messages.theMix(mix.name), repair: 'restore' }
  const preview = await db
    .selectFrom('analyses')
    .innerJoin('sound_rows', 'sound_rows.id', 'analyses.sound_id')
    .select(['shown_title', 'source_kind'])
    .where('audio_sha256', '=', sha256)
    .executeTakeFirst()
  if (preview)
    return {
      name: messages.theAudioOf(preview.shown_title),
      repair: preview.source_kind === 'library' ? 'fetch again' : 'restore',
    }
  return { name: messages.theFile(sha256.slice(0, 12)), repair: 'restore' }
}

async function findOwnFile(db: Db, sha256: string): Promise<string | null> {
  const row = await db
    .selectFrom('folder_files')
    .innerJoin('sources', 'sources.id', 'folder_files.source_id')
    .select('path')
    .where('sha256', '=', sha256)
    .where('sources.kind', '=', 'folder')
    .executeTakeFirst()
  return row?.path ?? null
}

async function findGranted(db: Db, sha256: string): Promise<{ title: string; isLibrary: boolean } | null> {
  const row = await db
    .selectFrom('grants')
    .innerJoin('sound_rows', 'sound_rows.id', 'grants.sound_id')
    .select(['shown_title', 'source_kind'])
    .where((eb) =>
      eb.or([eb('copy_sha256', '=', sha256), eb('served_sha256', '=', sha256), eb('heard_sha256', '=', sha256)]),
    )
    .executeTakeFirst()
  return row ? { title: row.shown_title, isLibrary: row.source_kind === 'library' } : null
}

async function findCut(db: Db, sha256: string): Promise<string | null> {
  const row = await db
    .selectFrom('cuts')
    .select(['file_name', 'sha256'])
    .where((eb) =>
      eb.or(
        (['sha256', 'peaks_sha256', 'sketch_sha256', 'strip_sha256', 'frames_sha256'] as const).map((column) =>
          eb(column, '=', sha256),
        ),
      ),
    )
    .executeTakeFirst()
  if (!row) return null
  return row.sha256 === sha256 ? messages.theCut(row.file_name) : messages.whatWasReadCut(row.file_name)
}
