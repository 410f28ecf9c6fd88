import { type PlacedAudio, type SourceFacts, sourceFactsOf } from '../../core/score'
import { isOneOf } from '../database/is-one-of'
import type { Db } from '../database/open'

/** What is known of sounds for placing them, from the analysis of the sound that each belongs to. */
export async function loadSourceFacts(
  db: Db,
  audios: readonly PlacedAudio[],
): Promise<(audio: PlacedAudio, fallback: { durationS: number }) => SourceFacts> {
  const ids = [...new Set(audios.flatMap(({ soundId }) => (soundId === null ? [] : [soundId])))]
  const rows = await db
    .selectFrom('analyses')
    .select(['sound_id', 'duration_s', 'hit_s', 'print_column_s', 'print_levels'])
    .where(isOneOf('sound_id', ids))
    .execute()
  const bySound = new Map(
    rows.map((row) => [
      row.sound_id,
      sourceFactsOf(
        { durationS: row.duration_s, hitS: row.hit_s },
        { columnS: row.print_column_s, levels: row.print_levels },
      ),
    ]),
  )
  return ({ soundId }, { durationS }) =>
    (soundId === null ? undefined : bySound.get(soundId)) ?? sourceFactsOf({ durationS, hitS: null }, null)
}
