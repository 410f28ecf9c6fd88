import type { LengthAnswer, LengthRequest } from '../../contract'
import type { PlacedAudio } from '../../core/score'
import { score as messages } from '../../messages/server/score'
import type { Services } from '../context'
import type { Db } from '../database/open'
import { DomainError } from '../domain-error'
import type { LengthTask } from '../workers/tasks'
import { runWatchedTask } from '../workers/watched-task'
import { requirePlacedFile } from './placed-audio'

/** Beats in a bar: libraries tell the tempo of music and not its metre, and nearly all of it is in four. */
const BEATS_IN_BAR = 4
/** Longer sounds are not looked through, s. */
const LONGEST_SOURCE_S = 1200

/**
 * How a placed sound is brought to a length.
 *
 * @throws {DomainError} not-found where its audio is not here, too-large; {MediaError} where it cannot be decoded.
 */
export async function findLengthFor(
  { db, store, interactivePool }: Services,
  { audio, fromS, toS, wantedS }: LengthRequest,
): Promise<LengthAnswer> {
  const path = await requirePlacedFile({ db, store }, audio)
  if (toS > LONGEST_SOURCE_S) throw new DomainError('too-large', messages.soundsUp20MinutesAre)
  const barS = await barLengthS(db, audio)
  const task: LengthTask = { path, fromS, toS, wantedS, barS }
  const fitted = await runWatchedTask<LengthAnswer['fitted']>(interactivePool, 'findLength', task)
  return { fitted, barS }
}

async function barLengthS(db: Db, { soundId }: PlacedAudio): Promise<number | null> {
  if (soundId === null) return null
  const row = await db.selectFrom('sounds').select(['kind', 'tempo_bpm']).where('id', '=', soundId).executeTakeFirst()
  return row?.kind === 'music' && row.tempo_bpm ? (60 * BEATS_IN_BAR) / row.tempo_bpm : null
}
