import { FEATURES_VERSION, RELATIONS_VERSION, type RecordingComparison } from '../../core/hearing'
import type { Db } from '../database/open'

/** What is remembered holds for features and comparisons as they are made now. */
const VERSION = `${FEATURES_VERSION}.${RELATIONS_VERSION}`

/**
 * What was compared before among some recordings.
 *
 * @param audio The audio of each sound, by its hash. Two sounds may have the same.
 */
export async function knownComparisons(db: Db, audio: readonly string[]): Promise<RecordingComparison[]> {
  const places = new Map<string, number[]>()
  audio.forEach((sha256, index) => {
    places.set(sha256, [...(places.get(sha256) ?? []), index])
  })
  const rows = await db.selectFrom('recording_comparisons').selectAll().where('version', '=', VERSION).execute()
  return rows.flatMap(({ one_sha256, other_sha256, likeness, piece }) =>
    (places.get(one_sha256) ?? []).flatMap((one) =>
      (places.get(other_sha256) ?? [])
        .filter((other) => other !== one)
        .map((other): RecordingComparison => {
          const isOneFirst = one < other
          const named =
            piece === null || piece === 'none' ? piece : (piece === 'one') === isOneFirst ? 'first' : 'second'
          return { first: Math.min(one, other), second: Math.max(one, other), likeness, piece: named }
        }),
    ),
  )
}

/** Writes down what was compared. What holds no longer, because features are made in another way now, goes. */
export async function rememberComparisons(
  trx: Db,
  audio: readonly string[],
  compared: readonly RecordingComparison[],
): Promise<void> {
  await trx.deleteFrom('recording_comparisons').where('version', '!=', VERSION).execute()
  for (const { first, second, likeness, piece } of compared) {
    const [a, b] = [audio[first] as string, audio[second] as string]
    const isFirstOne = a <= b
    const named = piece === null || piece === 'none' ? piece : (piece === 'first') === isFirstOne ? 'one' : 'other'
    const values = {
      one_sha256: isFirstOne ? a : b,
      other_sha256: isFirstOne ? b : a,
      version: VERSION,
      likeness,
      piece: named,
    } as const
    await trx
      .insertInto('recording_comparisons')
      .values(values)
      .onConflict((conflict) => conflict.columns(['one_sha256', 'other_sha256']).doUpdateSet(values))
      .execute()
  }
}

/** What was compared by features that are made anew now is compared again: they may have been damaged. */
export async function forgetComparisons(trx: Db, sha256: string): Promise<void> {
  await trx
    .deleteFrom('recording_comparisons')
    .where((is) => is.or([is('one_sha256', '=', sha256), is('other_sha256', '=', sha256)]))
    .execute()
  await trx
    .deleteFrom('sum_comparisons')
    .where((is) => is.or([is('whole_sha256', '=', sha256), is('stem_sha256s', 'like', `%${sha256}%`)]))
    .execute()
}

/** Whether stems were found to add up to a whole; null where that was not looked for yet. */
export async function knownSum(db: Db, whole: string, stems: readonly string[]): Promise<boolean | null> {
  const row = await db
    .selectFrom('sum_comparisons')
    .select('adds_up')
    .where('whole_sha256', '=', whole)
    .where('stem_sha256s', '=', stems.join(','))
    .where('version', '=', VERSION)
    .executeTakeFirst()
  return row ? row.adds_up === 1 : null
}

/** Writes down whether stems add up to a whole. */
export async function rememberSum(db: Db, whole: string, stems: readonly string[], addsUp: boolean): Promise<void> {
  const values = { whole_sha256: whole, stem_sha256s: stems.join(','), version: VERSION, adds_up: addsUp ? 1 : 0 }
  await db
    .insertInto('sum_comparisons')
    .values(values)
    .onConflict((conflict) => conflict.columns(['whole_sha256', 'stem_sha256s']).doUpdateSet(values))
    .execute()
}
