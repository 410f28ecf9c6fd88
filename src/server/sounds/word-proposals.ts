import { proposedWords, type WordProposal } from '../../core/finding'
import { alikeFraction } from '../../core/likeness'
import type { TimeRange } from '../../core/time-range'
import { sounds as messages } from '../../messages/server/sounds'
import type { Services } from '../context'
import { isOneOf } from '../database/is-one-of'
import { DomainError, notFound } from '../domain-error'
import { describeVideoPart } from '../finding/probes'
import type { LikeWhat } from '../ports/finder-messages'

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
  return proposeWordsLike({ db, finder }, { kind: 'sound', id: soundId }, [
    sound.title,
    ...(JSON.parse(sound.tags_json) as string[]),
  ])
}

/**
 * Words for a range of the newest finished file of a video by what the nearest sounds of libraries are called; none where it is silent.
 *
 * @throws {DomainError} not-found, bad-range.
 */
export async function proposeWordsForPart(
  services: Services,
  videoId: number,
  range: TimeRange,
  signal: AbortSignal,
): Promise<WordProposal> {
  const { likeness } = await describeVideoPart(services, videoId, range, signal)
  if (!likeness) return { words: [], category: null, neighbours: 0 }
  return proposeWordsLike(services, { kind: 'vector', vector: likeness.vector }, [])
}

async function proposeWordsLike(
  { db, finder }: Pick<Services, 'db' | 'finder'>,
  like: LikeWhat,
  known: readonly string[],
): Promise<WordProposal> {
  const alike = await finder
    .ask('find', {
      query: { parts: [], filters: [] },
      sort: 'best',
      limit: LOOKED_AT,
      offset: 0,
      like,
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
    const row = like.kind === 'sound' && id === like.id ? undefined : byId.get(id)
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
  return proposedWords(neighbours, known)
}
