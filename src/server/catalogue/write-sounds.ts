import { visibleText, webAddress } from '../../core/visible-text'
import { type Db, nowIso } from '../database/db'
import { isOneOf } from '../database/is-one-of'
import { REPLACED_VERSION } from '../database/replaced'
import { unhurriedTransaction } from '../database/unhurried-transaction'
import type { CatalogueSound } from '../ports/connector'
import { HEARD_BY_FILE } from '../rows/heard-by-file'
import type { Between } from './between'

/** Writing in one piece takes no longer than this, ms; whoever asks meanwhile is served after it. */
const PIECE_MS = 8
/** Rows looked at in one piece. */
const PIECE_ROWS = 200
/** Lengths that are listed this much apart are of two recordings, s. */
const OTHER_LENGTH_S = 0.05

/** Sounds that were written. */
export interface WrittenSounds {
  readonly fresh: number
  readonly changed: number
}

/**
 * Writes what is new or changed in some pages, piece by piece, under a generation that nobody sees yet.
 *
 * @param termsIds Stored terms by the keys that the sounds name.
 */
export async function writeSounds(
  db: Db,
  pages: AsyncIterable<readonly CatalogueSound[]>,
  options: Omit<PieceOptions, 'from'> & { readonly between: Between; readonly onPiece: (so: WrittenSounds) => void },
): Promise<WrittenSounds> {
  const { between, onPiece, ...target } = options
  let fresh = 0
  let changed = 0
  for await (const page of pages)
    for (let from = 0; from < page.length; ) {
      const piece = await writePiece(db, page, { ...target, from })
      from = piece.next
      fresh += piece.fresh
      changed += piece.changed
      onPiece({ fresh, changed })
      await between()
    }
  return { fresh, changed }
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
      if (before && isReplaced(before.row, values)) await setReplaced(trx, id)
    }
    return { next, ...counts }
  })
}

/**
 * Whether a library seems to hand out another recording than before: another length, or another address of the preview. What stands behind the question mark
 * of an address changes with each answer of some libraries, and tells nothing.
 */
function isReplaced(before: Offered, now: Offered): boolean {
  const address = ({ preview_ref }: Offered): string => preview_ref.split('?')[0] ?? ''
  return Math.abs(before.duration_s - now.duration_s) > OTHER_LENGTH_S || address(before) !== address(now)
}

type Offered = Pick<ReturnType<typeof soundValues>, 'duration_s' | 'preview_ref'>

/** Has a sound listened to anew, unless its file is here, which stays what it is. */
async function setReplaced(trx: Db, soundId: number): Promise<void> {
  await trx
    .updateTable('analyses')
    .set({ feature_version: REPLACED_VERSION })
    .where('sound_id', '=', soundId)
    .where(({ not }) => not(HEARD_BY_FILE))
    .execute()
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
    choice_of: sound.choiceOf?.externalId ?? null,
    choice_role: sound.choiceOf?.role ?? null,
    choice_name: sound.choiceOf ? visibleText(sound.choiceOf.name) : null,
    choice_position: sound.choiceOf?.position ?? null,
  }
}
