import { setImmediate } from 'node:timers/promises'
import { sql } from 'kysely'
import { visibleText, webAddress } from '../../core/visible-text'
import type { Services } from '../context'
import { type Db, nowIso } from '../database/db'
import { isOneOf } from '../database/is-one-of'
import { unhurriedTransaction } from '../database/unhurried-transaction'
import type { JobContext } from '../jobs/jobs'
import type { CatalogueSound, Connector } from '../ports/connector'
import { VERY_MANY_CHANGED } from '../ports/finder-messages'
import type { HeldTerms } from '../terms/held-to-text'
import { storeTerms } from '../terms/terms-store'

/** What a sync takes over: all sounds, or only those that changed. */
export interface CatalogueDelta {
  /** Sounds, a page at a time: a large catalogue is never held as a whole. */
  readonly pages: () => AsyncIterable<readonly CatalogueSound[]>
  /** Terms that the sounds are under. */
  readonly keys: ReadonlySet<string>
  /** Null when everything that is not in the stage is gone. */
  readonly goneIds: readonly string[] | null
  readonly mark: string | null
}

export interface Counted {
  readonly total: number
  readonly fresh: number
  readonly changed: number
  readonly gone: number
}

/** Writing in one piece takes no longer than this, ms; whoever asks meanwhile is served after it. */
const PIECE_MS = 8
/** Rows looked at in one piece. */
const PIECE_ROWS = 200
/** With more new sounds than this the search is made anew beside the one that answers. */
const TOLD_ONE_BY_ONE = 2000

/**
 * Takes over what a library lists, in pieces of a few milliseconds. New sounds are written under the next generation of their source and are seen
 * once it comes to it, all at once; broken off at any point it goes on from there, and nothing new is seen.
 */
export async function applyCatalogueDelta(
  { db, checkpoints, countSounds }: Pick<Services, 'db' | 'checkpoints' | 'countSounds'>,
  connector: Connector,
  {
    delta,
    served,
    context,
  }: { readonly delta: CatalogueDelta; readonly served: ReadonlyMap<string, HeldTerms>; readonly context: JobContext },
): Promise<Counted> {
  const termsIds = await storeServedTerms(db, connector.id, served)
  const generation = await nextGeneration(db, connector.id)
  let fresh = 0
  let changed = 0
  for await (const page of delta.pages())
    for (let from = 0; from < page.length; ) {
      context.signal.throwIfAborted()
      const piece = await writePiece(db, page, { from, sourceId: connector.id, termsIds, generation })
      from = piece.next
      fresh += piece.fresh
      changed += piece.changed
      context.report(0.15, `Taking over: ${fresh + changed} sounds new or changed`)
      await checkpoints.catchUp()
      await setImmediate()
    }
  await showGeneration(db, connector.id, { generation, fresh })
  const gone =
    delta.goneIds === null
      ? await withdrawUnseen(db, connector.id)
      : await withdrawNamed(db, connector.id, delta.goneIds)
  const total = (await countSounds('now')).get(connector.id)?.sounds ?? 0
  return { total, fresh, changed, gone }
}

/** Sounds that did not change themselves come under the new version of their terms too; papers keep theirs. */
async function storeServedTerms(
  db: Db,
  sourceId: string,
  served: ReadonlyMap<string, HeldTerms>,
): Promise<Map<string, number>> {
  const termsIds = new Map<string, number>()
  for (const [key, terms] of served) {
    const id = await db.transaction().execute((trx) => storeTerms(trx, sourceId, terms))
    termsIds.set(key, id)
    for (;;) {
      const rows = await db
        .selectFrom('sounds')
        .innerJoin('terms', 'terms.id', 'sounds.terms_id')
        .select('sounds.id')
        .where('sounds.source_id', '=', sourceId)
        .where('terms_id', '!=', id)
        .where('terms.source_id', '=', sourceId)
        .where('terms.key', '=', key)
        .limit(PIECE_ROWS)
        .execute()
      if (rows.length === 0) break
      const ids = rows.map((row) => row.id)
      await db.updateTable('sounds').set({ terms_id: id }).where(isOneOf('id', ids)).execute()
      await setImmediate()
    }
  }
  return termsIds
}

async function nextGeneration(db: Db, sourceId: string): Promise<number> {
  const { generation } = await db
    .selectFrom('sources')
    .select('generation')
    .where('id', '=', sourceId)
    .executeTakeFirstOrThrow()
  return generation + 1
}

interface PieceOptions {
  readonly from: number
  readonly sourceId: string
  readonly termsIds: ReadonlyMap<string, number>
  readonly generation: number
}

/** Writes some sounds of a page in one transaction. */
function writePiece(
  db: Db,
  page: readonly CatalogueSound[],
  { from, sourceId, termsIds, generation }: PieceOptions,
): Promise<{ next: number; fresh: number; changed: number }> {
  return unhurriedTransaction(db, async (trx) => {
    const startMs = performance.now()
    const sounds = page.slice(from, from + PIECE_ROWS)
    const known = await knownSounds(trx, sourceId, sounds)
    const counts = { fresh: 0, changed: 0 }
    let next = from
    for (const sound of sounds) {
      if (next > from && performance.now() - startMs > PIECE_MS) break
      next++
      const values = soundValues(sourceId, sound, termsIds.get(sound.termsKey) as number)
      const before = known.get(sound.externalId)
      const tiersOf = tierValues(sound, termsIds)
      if (before && isSame(before.row, values) && before.tiers === JSON.stringify(tiersOf)) continue
      // One that an earlier try wrote and nobody has seen is new still.
      const isNew = before === undefined || before.row.generation === generation
      counts[isNew ? 'fresh' : 'changed']++
      const { id } = await trx
        .insertInto('sounds')
        .values({ ...values, generation, updated_at: nowIso(), added_at: nowIso() })
        .onConflict((conflict) =>
          conflict.columns(['source_id', 'external_id']).doUpdateSet({ ...values, updated_at: nowIso() }),
        )
        .returning('id')
        .executeTakeFirstOrThrow()
      await storeTiers(trx, id, tiersOf)
    }
    return { next, ...counts }
  })
}

/** What is on file of some sounds of a page. */
async function knownSounds(trx: Db, sourceId: string, sounds: readonly CatalogueSound[]) {
  const rows = await trx
    .selectFrom('sounds')
    .selectAll()
    .where('source_id', '=', sourceId)
    .where(
      'external_id',
      'in',
      sounds.map(({ externalId }) => externalId),
    )
    .execute()
  const tiers = await trx
    .selectFrom('sound_tiers')
    .selectAll()
    .where(
      isOneOf(
        'sound_id',
        rows.map(({ id }) => id),
      ),
    )
    .orderBy('position')
    .execute()
  return new Map(
    rows.map((row) => {
      const own = tiers.filter(({ sound_id }) => sound_id === row.id).map(({ sound_id: _, ...tier }) => tier)
      return [row.external_id, { row, tiers: JSON.stringify(own.map(inOrder)) }]
    }),
  )
}

type TierValues = ReturnType<typeof tierValues>[number]

function tierValues({ tiers }: CatalogueSound, termsIds: ReadonlyMap<string, number>) {
  return tiers.map((tier, position) =>
    inOrder({
      key: tier.key,
      position,
      title: tier.title,
      price_minor: tier.priceMinor,
      currency: tier.currency,
      terms_id: termsIds.get(tier.termsKey) as number,
    }),
  )
}

/** With its columns always in one order, so that two can be compared as text. */
function inOrder<
  T extends { key: string; position: number; title: string; price_minor: number; currency: string; terms_id: number },
>(tier: T) {
  const { key, position, title, price_minor, currency, terms_id } = tier
  return { key, position, title, price_minor, currency, terms_id }
}

async function storeTiers(trx: Db, soundId: number, tiers: readonly TierValues[]): Promise<void> {
  // What is not sold any more keeps no price.
  await trx.deleteFrom('sound_tiers').where('sound_id', '=', soundId).execute()
  if (tiers.length === 0) return
  await trx
    .insertInto('sound_tiers')
    .values(tiers.map((tier) => ({ ...tier, sound_id: soundId })))
    .execute()
}

/** From here on the new sounds are seen, all at once. */
async function showGeneration(
  db: Db,
  sourceId: string,
  { generation, fresh }: { readonly generation: number; readonly fresh: number },
): Promise<void> {
  await db.transaction().execute(async (trx) => {
    await trx.updateTable('sources').set({ generation }).where('id', '=', sourceId).execute()
    if (fresh > TOLD_ONE_BY_ONE) await trx.insertInto('find_changes').values({ sound_id: VERY_MANY_CHANGED }).execute()
    else
      await trx
        .insertInto('find_changes')
        .columns(['sound_id'])
        .expression((eb) =>
          eb.selectFrom('sounds').select('id').where('source_id', '=', sourceId).where('generation', '=', generation),
        )
        .execute()
  })
}

/** Sounds that the library lists no more, a piece at a time. */
async function withdrawUnseen(db: Db, sourceId: string): Promise<number> {
  let gone = 0
  for (let after = 0; ; ) {
    const rows = await db
      .selectFrom('sounds')
      .leftJoin('catalogue_seen', (join) =>
        join
          .onRef('catalogue_seen.external_id', '=', 'sounds.external_id')
          .on('catalogue_seen.source_id', '=', sourceId),
      )
      .select(['sounds.id', 'withdrawn_at', 'catalogue_seen.external_id as seen'])
      // The plus keeps the table from being sorted anew for each piece: it is read in the order of its rows.
      .where(sql`+sounds.source_id`, '=', sourceId)
      .where('sounds.id', '>', after)
      .orderBy('sounds.id')
      .limit(PIECE_ROWS * 5)
      .execute()
    const last = rows[rows.length - 1]
    if (!last) return gone
    after = last.id
    const ids = rows.filter(({ seen, withdrawn_at }) => seen === null && withdrawn_at === null).map(({ id }) => id)
    gone += ids.length
    await withdraw(db, ids)
    await setImmediate()
  }
}

async function withdrawNamed(db: Db, sourceId: string, externalIds: readonly string[]): Promise<number> {
  let gone = 0
  for (let at = 0; at < externalIds.length; at += PIECE_ROWS) {
    const rows = await db
      .selectFrom('sounds')
      .select('id')
      .where('source_id', '=', sourceId)
      .where('external_id', 'in', externalIds.slice(at, at + PIECE_ROWS))
      .where('withdrawn_at', 'is', null)
      .execute()
    gone += rows.length
    await withdraw(
      db,
      rows.map(({ id }) => id),
    )
    await setImmediate()
  }
  return gone
}

async function withdraw(db: Db, ids: readonly number[]): Promise<void> {
  if (ids.length > 0) await db.updateTable('sounds').set({ withdrawn_at: nowIso() }).where(isOneOf('id', ids)).execute()
}

function isSame(before: object, values: object): boolean {
  return Object.entries(values).every(([key, value]) => (before as Record<string, unknown>)[key] === value)
}

function soundValues(sourceId: string, sound: CatalogueSound, termsId: number) {
  return {
    source_id: sourceId,
    external_id: sound.externalId,
    title: visibleText(sound.title),
    maker: visibleText(sound.maker),
    description: visibleText(sound.description),
    tags_json: JSON.stringify(sound.tags.map(visibleText)),
    category: visibleText(sound.category),
    duration_s: sound.durationS,
    formats_json: JSON.stringify(sound.formats),
    cost: sound.cost,
    page_url: webAddress(sound.pageUrl),
    preview_ref: sound.previewRef,
    terms_id: termsId,
    withdrawn_at: null,
    kind: sound.kind,
    tempo_bpm: sound.tempoBpm,
    mood: sound.mood,
    vocals: sound.vocals === null ? null : Number(sound.vocals),
    popularity: sound.popularity,
  }
}
