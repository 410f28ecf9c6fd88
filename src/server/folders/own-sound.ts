import { randomUUID } from 'node:crypto'
import { type Db, nowIso } from '../database/open'

/** What is known of a file of the creator's own when it becomes a sound. */
export interface OwnSound {
  readonly sourceId: string
  readonly title: string
  readonly maker: string
  readonly description: string
  readonly category: string
  readonly words: readonly string[]
  /** Without the dot. */
  readonly ending: string
  readonly termsId: number
}

/** Writes a file of the creator's own down as a sound. @returns Its id. */
export async function insertOwnSound(db: Db, sound: OwnSound): Promise<number> {
  const { id } = await db
    .insertInto('sounds')
    .values({
      source_id: sound.sourceId,
      external_id: randomUUID(),
      title: sound.title,
      maker: sound.maker,
      description: sound.description,
      category: sound.category,
      tags_json: JSON.stringify(sound.words),
      duration_s: 0,
      formats_json: JSON.stringify([sound.ending]),
      cost: 'yours',
      page_url: null,
      preview_ref: '',
      terms_id: sound.termsId,
      withdrawn_at: null,
      updated_at: nowIso(),
      added_at: nowIso(),
    })
    .returning('id')
    .executeTakeFirstOrThrow()
  return id
}
