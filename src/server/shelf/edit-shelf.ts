import type { ShelfEdit } from '../../contract'
import { shelf as messages } from '../../messages/server/shelf'
import type { Services } from '../context'
import { type Db, nowIso } from '../database/open'
import { notFound } from '../domain-error'

/** Makes one change to several sounds, as a whole or not at all. @throws {DomainError} not-found. */
export async function editShelf({ db }: Pick<Services, 'db'>, edit: ShelfEdit): Promise<void> {
  await db.transaction().execute(async (trx) => {
    const there = await trx.selectFrom('sounds').select('id').where('id', 'in', edit.soundIds).execute()
    if (there.length < new Set(edit.soundIds).size) throw notFound(messages.oneOfTheseSounds)
    await applyShelfEdit(trx, edit)
  })
}

async function applyShelfEdit(trx: Db, edit: ShelfEdit): Promise<void> {
  switch (edit.do) {
    case 'keep':
      return keep(trx, edit.soundIds)
    case 'unkeep':
      await trx.deleteFrom('keeps').where('sound_id', 'in', edit.soundIds).execute()
      return
    case 'put':
      return put(trx, edit)
    case 'take-out':
      await trx
        .deleteFrom('collection_sounds')
        .where('collection_id', '=', edit.collectionId)
        .where('sound_id', 'in', edit.soundIds)
        .execute()
      return
    case 'habit':
      await keep(trx, edit.soundIds)
      await trx
        .insertInto('habits')
        .values(edit.soundIds.map((sound_id) => ({ sound_id, words: edit.words.toLowerCase() })))
        .onConflict((conflict) => conflict.doNothing())
        .execute()
      return
    case 'no-habit':
      await trx
        .deleteFrom('habits')
        .where('sound_id', 'in', edit.soundIds)
        .where('words', '=', edit.words.toLowerCase())
        .execute()
      return
    case 'rename':
      await trx.updateTable('sounds').set({ own_title: edit.title }).where('id', 'in', edit.soundIds).execute()
  }
}

async function keep(trx: Db, soundIds: readonly number[]): Promise<void> {
  await trx
    .insertInto('keeps')
    .values(soundIds.map((sound_id) => ({ sound_id, note: '', kept_at: nowIso() })))
    .onConflict((conflict) => conflict.doNothing())
    .execute()
}

async function put(trx: Db, edit: Extract<ShelfEdit, { do: 'put' }>): Promise<void> {
  const { collectionId, beforeId } = edit
  const collection = await trx.selectFrom('collections').select('id').where('id', '=', collectionId).executeTakeFirst()
  if (!collection) throw notFound(messages.thisCollection)
  await keep(trx, edit.soundIds)
  const moved = new Set(edit.soundIds)
  const rows = await trx
    .selectFrom('collection_sounds')
    .select('sound_id')
    .where('collection_id', '=', collectionId)
    .orderBy('position')
    .execute()
  const rest = rows.map(({ sound_id }) => sound_id).filter((id) => !moved.has(id))
  const at = beforeId === null ? -1 : rest.indexOf(beforeId)
  const order = at < 0 ? [...rest, ...moved] : [...rest.slice(0, at), ...moved, ...rest.slice(at)]
  await trx.deleteFrom('collection_sounds').where('collection_id', '=', collectionId).execute()
  await trx
    .insertInto('collection_sounds')
    .values(order.map((sound_id, position) => ({ collection_id: collectionId, sound_id, position })))
    .execute()
}

/** Keeps a sound with a note, or changes the note of a kept one. @throws {DomainError} not-found. */
export async function keepSound(
  services: Pick<Services, 'db'>,
  soundId: number,
  { note, collectionId }: { note?: string | undefined; collectionId?: number | undefined },
): Promise<void> {
  await editShelf(services, { do: 'keep', soundIds: [soundId] })
  if (note !== undefined) await services.db.updateTable('keeps').set({ note }).where('sound_id', '=', soundId).execute()
  if (collectionId !== undefined)
    await editShelf(services, { do: 'put', soundIds: [soundId], collectionId, beforeId: null })
}
