import type { OwnWordsInput } from '../../contract'
import { visibleText } from '../../core/visible-text'
import { rows as messages } from '../../messages/server/rows'
import type { Db } from '../database/db'
import { DomainError, notFound } from '../domain-error'

/** What the creator says of a sound, and what its file does. */
export async function findOwnWords(db: Db, soundId: number): Promise<OwnWordsInput> {
  const row = await db.selectFrom('own_words').selectAll().where('sound_id', '=', soundId).executeTakeFirst()
  return row ? { words: JSON.parse(row.words_json) as string[], category: row.category } : { words: [], category: null }
}

/**
 * Gives a sound of the creator's own words and a category, in place of those that were given before; what its file says stays beside them.
 *
 * @throws {DomainError} not-found; from-library, for a sound whose library describes it.
 */
export async function setOwnWords(db: Db, soundId: number, { words, category }: OwnWordsInput): Promise<void> {
  await db.transaction().execute(async (trx) => {
    const sound = await trx
      .selectFrom('sounds')
      .innerJoin('sources', 'sources.id', 'sounds.source_id')
      .select(['sources.kind', 'tags_json', 'sounds.category'])
      .where('sounds.id', '=', soundId)
      .executeTakeFirst()
    if (!sound) throw notFound(messages.thisSound)
    if (sound.kind === 'library') throw new DomainError('from-library', messages.thisSoundDescribedByLibrary)
    const before = await trx.selectFrom('own_words').selectAll().where('sound_id', '=', soundId).executeTakeFirst()
    const values = {
      words_json: JSON.stringify([...new Set(words.map((word) => visibleText(word).toLowerCase()))]),
      category: category === null ? null : visibleText(category),
    }
    await trx
      .insertInto('own_words')
      .values({
        sound_id: soundId,
        ...values,
        file_tags_json: before?.file_tags_json ?? sound.tags_json,
        file_category: before?.file_category ?? sound.category,
      })
      .onConflict((conflict) => conflict.column('sound_id').doUpdateSet(values))
      .execute()
    await applyOwnWords(trx, soundId)
  })
}

/** Takes down what the file of a sound says now, and adds what the creator gave it. */
export async function redescribeBeside(
  trx: Db,
  soundId: number,
  file: { readonly tags_json: string; readonly category: string },
): Promise<void> {
  await trx
    .updateTable('own_words')
    .set({ file_tags_json: file.tags_json, file_category: file.category })
    .where('sound_id', '=', soundId)
    .execute()
  await applyOwnWords(trx, soundId)
}

async function applyOwnWords(trx: Db, soundId: number): Promise<void> {
  const row = await trx.selectFrom('own_words').selectAll().where('sound_id', '=', soundId).executeTakeFirst()
  if (!row) return
  const of = (json: string): string[] => JSON.parse(json) as string[]
  await trx
    .updateTable('sounds')
    .set({
      tags_json: JSON.stringify([...new Set([...of(row.file_tags_json), ...of(row.words_json)])]),
      category: row.category ?? row.file_category,
    })
    .where('id', '=', soundId)
    .execute()
}
