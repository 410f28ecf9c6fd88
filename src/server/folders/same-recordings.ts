import { sql } from 'kysely'
import { folders as messages } from '../../messages/server/folders'
import { isOneOf } from '../database/is-one-of'
import type { Db } from '../database/open'

const NAMED_MAX = 3

/** Which of some sounds are recordings that another source has too, in words; empty where none is. */
export async function sameRecordingsInWords(db: Db, sourceId: string, soundIds: readonly number[]): Promise<string> {
  if (soundIds.length === 0) return ''
  const rows = await db
    .selectFrom('recording_groups as own')
    .innerJoin('recording_groups as other', (join) =>
      join.onRef('other.group_id', '=', 'own.group_id').onRef('other.sound_id', '!=', 'own.sound_id'),
    )
    .innerJoin('sound_rows as here', 'here.id', 'own.sound_id')
    .innerJoin('sound_rows as there', 'there.id', 'other.sound_id')
    .select(['own.sound_id', 'here.shown_title as title'])
    .select([
      sql<string>`min(there.shown_title)`.as('otherTitle'),
      sql<string>`min(there.source_name)`.as('otherSource'),
    ])
    .where(isOneOf('own.sound_id', soundIds))
    .where('there.source_id', '!=', sourceId)
    .groupBy('own.sound_id')
    .orderBy('own.sound_id')
    .execute()
  if (rows.length === 0) return ''
  const named = rows
    .slice(0, NAMED_MAX)
    .map(({ title, otherTitle, otherSource }) => messages.isOf(title, otherTitle, otherSource))
  const more = rows.length > NAMED_MAX ? messages.andMore : ''
  return `; ${rows.length} you have already (${named.join(', ')}${more})`
}
