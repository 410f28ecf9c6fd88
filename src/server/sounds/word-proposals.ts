import { proposedWords, type WordProposal } from '../../core/finding'
import { alikeFraction } from '../../core/likeness'
import { sounds as messages } from '../../messages/server/sounds'
import type { Services } from '../context'
import { isOneOf } from '../database/is-one-of'
import { DomainError, notFound } from '../domain-error'

/** Sounds alike that are looked at; some have no words themselves, or are the same recording. */
const LOOKED_AT = 60

/** Words for a sound by what the nearest sounds of libraries are called. @throws {DomainError} not-found. */
export async function proposeWords(
  { db, finder }: Pick<Services, 'db' | 'finder'>,
  soundId: number,
): Promise<WordProposal> {
  const sound = await db
    .selectFrom('sounds')
    .select(['title', 'tags_json'])
    .where('id', '=', soundId)
    .executeTakeFirst()
  if (!sound) throw notFound(messages.thisSound)
  const alike = await finder
    .ask('find', {
      query: { parts: [], filters: [] },
      sort: 'best',
      limit: LOOKED_AT,
      offset: 0,
      like: { kind: 'sound', id: soundId },
      fits: null,
    })
    .catch((error: unknown) => {
      if (error instanceof DomainError && error.code === 'not-listened-to') return null
      throw error
    })
  if (alike === null) return { words: [], category: null, neighbours: 0 }
  const rows = await db
    .selectFrom('sounds')
    .innerJoin('sources', 'sources.id', 'sounds.source_id')
    .select(['sounds.id', 'title', 'tags_json', 'category'])
    .where(isOneOf('sounds.id', alike.ids))
    // What a creator's own files are called is no label, unless words were given to them.
    .where(({ or, eb, exists, selectFrom }) =>
      or([
        eb('sources.kind', '=', 'library'),
        exists(selectFrom('own_words').select('sound_id').whereRef('own_words.sound_id', '=', 'sounds.id')),
      ]),
    )
    .execute()
  const byId = new Map(rows.map((row) => [row.id, row]))
  const neighbours = alike.ids.flatMap((id, at) => {
    const row = id === soundId ? undefined : byId.get(id)
    if (!row) return []
    const { title, category } = row
    return [
      {
        fraction: alikeFraction(alike.likeness[at] ?? 0),
        title,
        category,
        words: JSON.parse(row.tags_json) as string[],
      },
    ]
  })
  return proposedWords(neighbours, [sound.title, ...(JSON.parse(sound.tags_json) as string[])])
}
