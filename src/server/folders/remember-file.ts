import type { Db } from '../database/db'
import type { FoundFile } from './walk'

/** Writes down which file a sound was found in; one that was found there before gives way. */
export async function rememberFile(
  db: Db,
  sourceId: string,
  { file, sha256, soundId }: { file: FoundFile; sha256: string; soundId: number },
): Promise<void> {
  const values = {
    source_id: sourceId,
    path: file.path,
    size_bytes: file.sizeBytes,
    modified_ms: file.modifiedMs,
    sha256,
    sound_id: soundId,
  }
  await db
    .insertInto('folder_files')
    .values(values)
    .onConflict((conflict) => conflict.columns(['source_id', 'path']).doUpdateSet(values))
    .execute()
}
