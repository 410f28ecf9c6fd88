import { sql } from 'kysely'
import type { ChoiceWire, SoundDetail, SoundSummary } from '../../contract'
import { CHOICE_ROLES, type ChoiceRole, inChoiceOrder } from '../../core/sound-choices'
import type { Db } from '../database/db'

/** In how many choices each of some sounds can be had; those without any are left out. */
export async function countChoices(db: Db, ids: readonly number[]): Promise<ReadonlyMap<number, number>> {
  if (ids.length === 0) return new Map()
  const { rows } = await sql<{ id: number; count: number }>`SELECT entry.id AS id, count(*) AS count
    FROM json_each(${JSON.stringify(ids)}) AS wanted
    JOIN sounds AS entry ON entry.id = wanted.value
    JOIN sounds AS choice ON choice.source_id = entry.source_id AND choice.choice_of = entry.external_id
    WHERE choice.withdrawn_at IS NULL GROUP BY entry.id`.execute(db)
  return new Map(rows.map(({ id, count }) => [id, count]))
}

/** The choices of an entry, as its library lists them today. @param load Their summaries, in the order asked for. */
export async function loadChoices(
  db: Db,
  entry: { readonly source_id: string; readonly external_id: string },
  load: (ids: readonly number[]) => Promise<readonly SoundSummary[]>,
): Promise<ChoiceWire[]> {
  const rows = await db
    .selectFrom('sound_rows')
    .select(['id', 'choice_role', 'choice_name', 'choice_position'])
    .where('source_id', '=', entry.source_id)
    .where('choice_of', '=', entry.external_id)
    .where('withdrawn_at', 'is', null)
    .execute()
  const choices = inChoiceOrder(
    rows.map(({ id, choice_role, choice_name, choice_position }) => ({
      id,
      role: roleOf(choice_role),
      name: choice_name ?? '',
      position: choice_position ?? 0,
    })),
  )
  const summaries = new Map((await load(choices.map(({ id }) => id))).map((one) => [one.id, one]))
  return choices.flatMap(({ id, role, name }) => {
    const summary = summaries.get(id)
    return summary ? [{ ...summary, role, name }] : []
  })
}

/** What a sound is a choice of; null for one that stands for itself, or whose entry is not on file. */
export async function findEntry(
  db: Db,
  row: {
    readonly source_id: string
    readonly choice_of: string | null
    readonly choice_role: string | null
    readonly choice_name: string | null
  },
): Promise<SoundDetail['choiceOf']> {
  if (row.choice_of === null) return null
  const entry = await db
    .selectFrom('sound_rows')
    .select(['id', 'shown_title'])
    .where('source_id', '=', row.source_id)
    .where('external_id', '=', row.choice_of)
    .executeTakeFirst()
  if (!entry) return null
  return { soundId: entry.id, title: entry.shown_title, role: roleOf(row.choice_role), name: row.choice_name ?? '' }
}

function roleOf(role: string | null): ChoiceRole {
  return CHOICE_ROLES.find((one) => one === role) ?? 'version'
}
