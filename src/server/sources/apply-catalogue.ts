import { setImmediate } from 'node:timers/promises'
import { sources as messages } from '../../messages/server/sources'
import { withdraw, withdrawUnseen } from '../catalogue/withdraw-sounds'
import { type WrittenSounds, writeSounds } from '../catalogue/write-sounds'
import type { Db } from '../database/db'
import { isOneOf } from '../database/is-one-of'
import { unhurriedTransaction } from '../database/unhurried-transaction'
import type { JobContext } from '../jobs/jobs'
import type { CatalogueSound, Connector } from '../ports/connector'
import { VERY_MANY_CHANGED } from '../ports/finder-messages'
import type { HeldTerms } from '../terms/held-to-text'
import { storeTerms } from '../terms/terms-store'
import { betweenPieces, type CatalogueServices, workInThread } from './catalogue-thread'

/** What a sync takes over: all sounds, or only those that changed. */
export interface CatalogueDelta {
  /** Sounds, a page at a time: a large catalogue is never held as a whole. */
  readonly pages: () => AsyncIterable<readonly CatalogueSound[]>
  /** Terms that the sounds are under. */
  readonly keys: ReadonlySet<string>
  /** Sounds that lie in the stage; 0 where they were not put there. */
  readonly stagedCount: number
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

/** Rows looked at in one piece. */
const PIECE_ROWS = 200
/** A catalogue of more sounds is written by a thread of its own: the disk may keep who writes waiting, and nobody else. */
export const IN_THREAD_FROM = 20_000
/** With more new sounds than this the search is made anew beside the one that answers. */
const TOLD_ONE_BY_ONE = 2000

/**
 * Takes over what a library lists, in pieces of a few milliseconds. New sounds are written under the next generation of their source and are seen
 * once it comes to it, all at once; broken off at any point it goes on from there, and nothing new is seen.
 */
export async function applyCatalogueDelta(
  services: CatalogueServices,
  connector: Connector,
  {
    delta,
    served,
    context,
  }: { readonly delta: CatalogueDelta; readonly served: ReadonlyMap<string, HeldTerms>; readonly context: JobContext },
): Promise<Counted> {
  const { db, checkpoints, countSounds } = services
  const termsIds = await storeServedTerms(db, connector.id, served)
  const generation = await nextGeneration(db, connector.id)
  const between = betweenPieces(services, context)
  const onPiece = ({ fresh, changed }: WrittenSounds): void =>
    context.report(0.15, messages.takingOverSoundsNewOr(fresh + changed))
  const inThread = delta.stagedCount > IN_THREAD_FROM
  const { fresh, changed } = inThread
    ? await workInThread<WrittenSounds>(
        services,
        connector.id,
        { kind: 'write', termsIds: [...termsIds], generation },
        { signal: context.signal, onPiece },
      )
    : await writeSounds(db, delta.pages(), { sourceId: connector.id, termsIds, generation, between, onPiece })
  // What is seen from here on is on the disk, and that is not waited for by those who ask something.
  await checkpoints.settle()
  await showGeneration(db, connector.id, { generation, fresh })
  const gone =
    delta.goneIds === null
      ? inThread
        ? await workInThread<number>(services, connector.id, { kind: 'withdraw' }, { signal: context.signal })
        : await withdrawUnseen(db, connector.id, between)
      : await withdrawNamed(db, connector.id, delta.goneIds)
  const total = (await countSounds('now')).get(connector.id)?.sounds ?? 0
  return { total, fresh, changed, gone }
}

/** Stores terms as they are served today. Sounds that did not change themselves come under the new version of their terms too; papers keep theirs. @returns Their ids by their keys. */
export async function storeServedTerms(
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
      await unhurriedTransaction(db, (trx) =>
        trx.updateTable('sounds').set({ terms_id: id }).where(isOneOf('id', ids)).execute(),
      )
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
