import { randomUUID } from 'node:crypto'
import { sql } from 'kysely'
import type { FitTable } from '../../core/finding'
import { type DecisionContext, type Fit, fitOf } from '../../core/rights'
import type { Services } from '../context'
import type { MayBeBehind } from '../ports/finder-messages'
import { loadPapers } from './papers-of'
import { decideFromPapersOrOffer, loadTierOffers } from './weigh'

/** A table, and whether the list of offers that it was made of knew the last changes. */
type OwnFitTable = FitTable & MayBeBehind

const tables = new WeakMap<Services['finder'], OwnFitTable>()

/**
 * What the terms of every offer say for a video, and the papers of every sound that has some.
 *
 * Sounds under the same terms, tiers and plan fit alike, so one of each is weighed. Kept until anything in the database changes, but for one that was made
 * of a list which did not know the last changes.
 */
export async function loadFitTable(
  { db, finder }: Pick<Services, 'db' | 'finder'>,
  context: DecisionContext,
): Promise<OwnFitTable> {
  const key = JSON.stringify([await stateOf({ db }), context])
  const known = tables.get(finder)
  if (known?.key === key) return known
  const { offers, behindMs } = await finder.ask('offers', null)
  const granted = await db.selectFrom('active_grants').select('sound_id').distinct().execute()
  const examples = await loadFits(
    { db },
    offers.map(({ soundId }) => soundId),
    context,
    false,
  )
  const table: OwnFitTable = {
    behindMs,
    // Whoever keeps what it made of a table keeps nothing of one that is made anew for the next question.
    key: behindMs === null ? key : `${key} ${randomUUID()}`,
    byOffer: new Map(offers.flatMap(({ offer, soundId }) => fitEntry(offer, examples.get(soundId)))),
    bySound: await loadFits(
      { db },
      granted.map(({ sound_id }) => sound_id),
      context,
      true,
    ),
  }
  if (behindMs === null) tables.set(finder, table)
  return table
}

function fitEntry(offer: string, fit: Fit | undefined): [string, Fit][] {
  return fit === undefined ? [] : [[offer, fit]]
}

/** Says when the database is another one than before: changed over this connection, or over any other. */
async function stateOf({ db }: Pick<Services, 'db'>): Promise<string> {
  const own = await sql<{ changes: number }>`SELECT total_changes() AS changes`.execute(db)
  const others = await sql<{ data_version: number }>`PRAGMA data_version`.execute(db)
  return `${own.rows[0]?.changes} ${others.rows[0]?.data_version}`
}

/** @param withPapers Whether papers on file count, or only what would be acquired now. */
async function loadFits(
  { db }: Pick<Services, 'db'>,
  ids: readonly number[],
  context: DecisionContext,
  withPapers: boolean,
): Promise<Map<number, Fit>> {
  if (ids.length === 0) return new Map()
  const rows = await db
    .selectFrom('sound_rows')
    .selectAll()
    .where('id', 'in', [...ids])
    .execute()
  const papers = withPapers ? await loadPapers(db, ids, context.videoId ?? null) : new Map()
  const tiers = await loadTierOffers(db, ids, context.videoId ?? null)
  return new Map(
    rows.map((row) => [
      row.id,
      fitOf(decideFromPapersOrOffer(context, papers.get(row.id) ?? [], row, tiers.get(row.id) ?? [])),
    ]),
  )
}
