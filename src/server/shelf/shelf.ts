import type { Shelf, ShelfSound, SoundSummary } from '../../contract'
import type { DecisionContext } from '../../core/rights'
import type { Services } from '../context'
import { isOneOf } from '../database/is-one-of'
import type { Db } from '../database/open'
import { loadUsedIn } from '../rows/used-in'
import { loadSummaries } from '../sounds/search-sounds'

/** More sounds than this are not sent at once. */
const SHELF_MAX = 3000

/** What is on the Shelf: kept sounds and everything of which a copy is here, collections, and what is there twice. */
export async function loadShelf({ db }: Pick<Services, 'db'>, context: DecisionContext | null): Promise<Shelf> {
  const ids = await listShelfIds(db)
  const shown = ids.slice(0, SHELF_MAX)
  const sounds = await loadSummaries({ db }, shown, context)
  const collections = await loadCollections(db)
  const more = await loadShelfFacts(db, shown)
  return {
    sounds: sounds.map((sound): ShelfSound => ({ ...sound, ...more(sound, collections) })),
    collections,
    duplicates: await findDuplicates(db, sounds),
    cut: ids.length > SHELF_MAX,
  }
}

/** Newest first. */
async function listShelfIds(db: Db): Promise<number[]> {
  const kept = await db.selectFrom('keeps').select(['sound_id', 'kept_at as at']).execute()
  const granted = await db
    .selectFrom('active_grants')
    .select((eb) => ['sound_id', eb.fn.max('acquired_at').as('at')])
    .groupBy('sound_id')
    .execute()
  const own = await db
    .selectFrom('sounds')
    .innerJoin('sources', 'sources.id', 'sounds.source_id')
    .select(['sounds.id as sound_id', 'added_at as at'])
    .where('sources.kind', '!=', 'library')
    .where('withdrawn_at', 'is', null)
    .execute()
  const newest = new Map<number, string>()
  for (const { sound_id, at } of [...own, ...granted, ...kept])
    if (at > (newest.get(sound_id) ?? '')) newest.set(sound_id, at)
  return [...newest].sort(([a, atA], [b, atB]) => (atA === atB ? b - a : atA < atB ? 1 : -1)).map(([id]) => id)
}

async function loadCollections(db: Db): Promise<Shelf['collections']> {
  const rows = await db.selectFrom('collections').select(['id', 'name']).orderBy('position').orderBy('id').execute()
  const members = await db
    .selectFrom('collection_sounds')
    .select(['collection_id', 'sound_id'])
    .orderBy('position')
    .execute()
  return rows.map(({ id, name }) => ({
    id,
    name,
    soundIds: members.filter(({ collection_id }) => collection_id === id).map(({ sound_id }) => sound_id),
  }))
}

/** What the Shelf shows of a sound beside its summary. */
async function loadShelfFacts(db: Db, ids: readonly number[]) {
  const keeps = await db.selectFrom('keeps').selectAll().where(isOneOf('sound_id', ids)).execute()
  const habits = await db.selectFrom('habits').selectAll().where(isOneOf('sound_id', ids)).orderBy('words').execute()
  const named = await db
    .selectFrom('sound_rows')
    .select(['id', 'original_title'])
    .where(isOneOf('id', ids))
    .where('is_renamed', '=', 1)
    .execute()
  const copies = await db.selectFrom('copies').select(['sha256', 'file_name']).execute()
  const fileNames = new Map(copies.map(({ sha256, file_name }) => [sha256, file_name]))
  const used = await loadUsedIn(db, ids)
  return ({ id, copySha256 }: SoundSummary, collections: Shelf['collections']) => {
    const keep = keeps.find(({ sound_id }) => sound_id === id)
    return {
      keptAt: keep?.kept_at ?? null,
      note: keep?.note ?? '',
      originalTitle: named.find((row) => row.id === id)?.original_title ?? null,
      fileName: copySha256 === null ? null : (fileNames.get(copySha256) ?? null),
      collectionIds: collections.filter(({ soundIds }) => soundIds.includes(id)).map((one) => one.id),
      habits: habits.filter(({ sound_id }) => sound_id === id).map(({ words }) => words),
      usedIn: used.get(id) ?? [],
    }
  }
}

/** Fits from the best papers down. */
const FIT_ORDER: readonly SoundSummary['fit'][] = ['fits', 'fits-with-credit', 'not-stated', null, 'does-not-fit']

/** Sounds of the Shelf that are the same file, or the same recording by what is heard, the better papers first. */
async function findDuplicates(db: Db, sounds: readonly SoundSummary[]): Promise<Shelf['duplicates']> {
  if (sounds.length === 0) return []
  const ids = sounds.map(({ id }) => id)
  const files = await db
    .selectFrom('analyses')
    .select(['sound_id', 'audio_sha256'])
    .where('sound_id', 'in', ids)
    .execute()
  const recordings = await db.selectFrom('recording_groups').selectAll().where('sound_id', 'in', ids).execute()
  const rank = new Map(sounds.map(({ id, fit, copySha256 }) => [id, FIT_ORDER.indexOf(fit) * 2 + (copySha256 ? 0 : 1)]))
  const grouped = (pairs: readonly (readonly [string, number])[], how: Shelf['duplicates'][number]['how']) => {
    const groups = new Map<string, number[]>()
    for (const [key, id] of pairs) groups.set(key, [...(groups.get(key) ?? []), id])
    return [...groups.values()]
      .filter((group) => group.length > 1)
      .map((group) => ({ soundIds: group.sort((a, b) => (rank.get(a) ?? 0) - (rank.get(b) ?? 0) || a - b), how }))
  }
  const same = grouped(
    files.map(({ audio_sha256, sound_id }) => [audio_sha256, sound_id] as const),
    'same file',
  )
  const told = new Set(same.map(({ soundIds }) => [...soundIds].sort().join()))
  const alike = grouped(
    recordings.map(({ group_id, sound_id }) => [String(group_id), sound_id] as const),
    'same recording',
  )
  return [...same, ...alike.filter(({ soundIds }) => !told.has([...soundIds].sort().join()))]
}
