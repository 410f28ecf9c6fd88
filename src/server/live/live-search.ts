import type { LiveFound } from '../../contract'
import { type Filter, parsedQuery } from '../../core/finding'
import { live as messages } from '../../messages/server/live'
import { writeSounds } from '../catalogue/write-sounds'
import type { Services } from '../context'
import { type Db, nowIso } from '../database/db'
import { DomainError } from '../domain-error'
import type { CatalogueSound, Connector, LiveQuery } from '../ports/connector'
import type { LiveAsked, SearchesLive } from '../ports/live'
import { storeServedTerms } from '../sources/apply-catalogue'
import { fetchHeldTerms } from '../sources/served-terms'

/** More of one answer is not taken. */
const MAX_SOUNDS = 100
const MAX_TERMS = 20
/** A library is not asked the same again within this, ms: one types, takes back, and types again. */
const ANSWER_KEPT_MS = 5 * 60_000
const MAX_ANSWERS = 200
/** Terms are asked for again after this, ms. */
const TERMS_KEPT_MS = 3600_000
/** A library that takes longer has not answered, ms. */
const ANSWER_MAX_MS = 15_000

type Found = Omit<LiveFound, 'sounds'>
type Needs = Pick<Services, 'db' | 'accounts' | 'readText'>

/**
 * Searches libraries that are too large to be mirrored, and puts what they answer into the catalogue: from there it is found, heard, downloaded and
 * weighed like everything else.
 */
export class LiveSearch implements SearchesLive {
  private readonly answers = new Map<string, { readonly atMs: number; readonly found: Found }>()
  private readonly terms = new Map<string, { readonly atMs: number; readonly id: number }>()

  constructor(
    private readonly services: Needs,
    private readonly nowMs: () => number = Date.now,
  ) {}

  async search(asked: LiveAsked, signal: AbortSignal): Promise<Found> {
    const { connector, syncedAt } = await this.connected(asked.sourceId)
    const query = liveQueryOf(asked.q)
    if (query === null) return { ids: [], total: 0, next: null }
    const key = JSON.stringify([asked.sourceId, syncedAt, query, asked.after])
    const known = this.answers.get(key)
    if (known && this.nowMs() - known.atMs < ANSWER_KEPT_MS) return known.found
    const found = await this.ask({ connector, syncedAt }, query, asked.after, signal)
    this.answers.delete(key)
    this.answers.set(key, { atMs: this.nowMs(), found })
    const [oldest] = this.answers
    if (oldest && this.answers.size > MAX_ANSWERS) this.answers.delete(oldest[0])
    return found
  }

  private async ask(library: Connected, query: LiveQuery, after: string | null, signal: AbortSignal): Promise<Found> {
    const within = AbortSignal.any([signal, AbortSignal.timeout(ANSWER_MAX_MS)])
    const page = await library.connector.search(query, after, within)
    const sounds = distinct(page.sounds).slice(0, MAX_SOUNDS)
    const ids = await this.take(library, sounds, within)
    return { ids, total: page.total, next: page.next }
  }

  /** @returns Their ids, in their order. */
  private async take(library: Connected, sounds: readonly CatalogueSound[], signal: AbortSignal): Promise<number[]> {
    if (sounds.length === 0) return []
    const { db } = this.services
    const { connector } = library
    const termsIds = await this.termsOf(library, sounds, signal)
    // Of terms that cannot be had nothing is known: such a sound is not shown.
    const known = sounds.filter(({ termsKey, tiers }) =>
      [termsKey, ...tiers.map((tier) => tier.termsKey)].every((key) => termsIds.has(key)),
    )
    const { generation } = await db
      .selectFrom('sources')
      .select('generation')
      .where('id', '=', connector.id)
      .executeTakeFirstOrThrow()
    const options = { sourceId: connector.id, termsIds, generation, between: async () => {}, onPiece: () => {} }
    await writeSounds(db, onePage(known), options)
    return noteSeen(db, connector.id, known)
  }

  private async termsOf(
    { connector, syncedAt }: Connected,
    sounds: readonly CatalogueSound[],
    signal: AbortSignal,
  ): Promise<Map<string, number>> {
    const sourceId = connector.id
    const keys = new Set(sounds.flatMap(({ termsKey, tiers }) => [termsKey, ...tiers.map((tier) => tier.termsKey)]))
    const ids = new Map<string, number>()
    for (const key of [...keys].slice(0, MAX_TERMS)) {
      const termsKey = JSON.stringify([sourceId, syncedAt, key])
      const known = this.terms.get(termsKey)
      if (known && this.nowMs() - known.atMs < TERMS_KEPT_MS) {
        ids.set(key, known.id)
        continue
      }
      const held = await fetchHeldTerms(connector, key, this.services.readText, signal)
      for (const [, id] of await storeServedTerms(this.services.db, sourceId, new Map([[key, held]]))) {
        ids.set(key, id)
        this.terms.set(termsKey, { atMs: this.nowMs(), id })
      }
    }
    return ids
  }

  private async connected(sourceId: string): Promise<Connected> {
    const connector = this.services.accounts.connector(sourceId)
    const source = await this.services.db
      .selectFrom('sources')
      .select(['connected', 'last_sync_at'])
      .where('id', '=', sourceId)
      .executeTakeFirst()
    if (!isSearched(connector) || source?.connected !== 1)
      throw new DomainError('not-found', messages.notLibraryThatSearchedWhile(connector.name))
    return { connector, syncedAt: source.last_sync_at }
  }
}

type Searched = Connector & { readonly search: NonNullable<Connector['search']> }

/** A library with the time of its last sync: what is remembered of it holds until the next one, which may have found other terms. */
interface Connected {
  readonly connector: Searched
  readonly syncedAt: string | null
}

export function isSearched(connector: Connector): connector is Searched {
  return connector.search !== undefined
}

/** What of a query a library is asked: its words, and the conditions that a library may know. @returns null where no word is looked for. */
export function liveQueryOf(q: string): LiveQuery | null {
  const { parts, filters } = parsedQuery(q)
  const words = parts
    .flatMap((part) => (part.not ? [] : part.words))
    .join(' ')
    .trim()
  if (words === '') return null
  const of = <K extends Filter['kind']>(kind: K) =>
    filters.find((one): one is Extract<Filter, { kind: K }> => one.kind === kind)
  const length = of('length')
  const types = of('type')?.types
  return {
    words,
    minLengthS: length?.fromS ?? undefined,
    maxLengthS: length?.toS ?? undefined,
    kind: types?.length === 1 ? types[0] : undefined,
  }
}

function distinct(sounds: readonly CatalogueSound[]): CatalogueSound[] {
  return [...new Map(sounds.map((sound) => [sound.externalId, sound])).values()]
}

async function* onePage(sounds: readonly CatalogueSound[]): AsyncGenerator<readonly CatalogueSound[]> {
  yield sounds
}

/** Notes that sounds were among the answers now. @returns The ids of those that are shown by themselves, in their order: choices come with their entry. */
async function noteSeen(db: Db, sourceId: string, sounds: readonly CatalogueSound[]): Promise<number[]> {
  const rows = await db
    .selectFrom('sounds')
    .select(['id', 'external_id'])
    .where('source_id', '=', sourceId)
    .where(
      'external_id',
      'in',
      sounds.map(({ externalId }) => externalId),
    )
    .execute()
  const idOf = new Map(rows.map((row) => [row.external_id, row.id]))
  const ids = sounds.flatMap(({ externalId }) => idOf.get(externalId) ?? [])
  const seen_at = nowIso()
  if (ids.length > 0)
    await db
      .insertInto('live_seen')
      .values(ids.map((sound_id) => ({ sound_id, seen_at })))
      .onConflict((conflict) => conflict.column('sound_id').doUpdateSet({ seen_at }))
      .execute()
  return sounds.flatMap(({ externalId, choiceOf }) => (choiceOf ? [] : (idOf.get(externalId) ?? [])))
}
