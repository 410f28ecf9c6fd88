import path from 'node:path'
import { contradictionOf, type LicenceReading, type SaidBeside, type Terms } from '../../core/rights'
import type { Db } from '../database/db'
import { isOneOf } from '../database/is-one-of'

/** Words beside a file that nobody has answered. */
interface OpenWords {
  readonly where: string
  readonly reading: LicenceReading
}

/**
 * Unanswered tags and texts that speak of the files of some sounds, by sound, the nearest first. Files are known by the folder that they
 * were found in; sounds that came another way have none.
 */
export async function loadOpenWords(db: Db, soundIds: readonly number[]): Promise<Map<number, OpenWords[]>> {
  const bySound = new Map<number, OpenWords[]>()
  if (soundIds.length === 0) return bySound
  const proposals = await db
    .selectFrom('papers_proposals')
    .select(['source_id', 'path', 'reading_json'])
    .select((eb) =>
      eb
        .exists(
          eb
            .selectFrom('folder_files as tagged')
            .select('tagged.path')
            .whereRef('tagged.source_id', '=', 'papers_proposals.source_id')
            .whereRef('tagged.path', '=', 'papers_proposals.path'),
        )
        .as('is_tag'),
    )
    .where('state', '=', 'open')
    .where(({ eb, selectFrom }) =>
      eb(
        'source_id',
        'in',
        selectFrom('folder_files').select('folder_files.source_id').where(isOneOf('folder_files.sound_id', soundIds)),
      ),
    )
    .execute()
  if (proposals.length === 0) return bySound
  const files = await db
    .selectFrom('folder_files')
    .select(['source_id', 'path', 'sound_id'])
    .where(isOneOf('sound_id', soundIds))
    .execute()
  for (const file of files) {
    const spoken = proposals
      .filter(
        ({ source_id, path: where, is_tag }) =>
          source_id === file.source_id && (is_tag ? where === file.path : liesBeside(where, file.path)),
      )
      .sort((a, b) => Number(b.path === file.path) - Number(a.path === file.path) || b.path.length - a.path.length)
    const words = spoken.map(({ path: where, reading_json }) => ({
      where,
      reading: JSON.parse(reading_json) as LicenceReading,
    }))
    if (words.length > 0) bySound.set(file.sound_id, [...(bySound.get(file.sound_id) ?? []), ...words])
  }
  return bySound
}

/** Whether a text lies in the folder of a file, or in one above. */
function liesBeside(where: string, file: string): boolean {
  const folder = path.dirname(where)
  return folder === '.' || file.startsWith(`${folder}${path.sep}`)
}

/** The nearest words that say otherwise than declared terms; null where none do. */
export function saidOtherwise(terms: Terms, words: readonly OpenWords[]): SaidBeside | null {
  for (const { where, reading } of words) {
    const found = contradictionOf(terms, reading)
    if (found) return { ...found, where }
  }
  return null
}
