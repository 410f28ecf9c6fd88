import { sql } from 'kysely'
import { FEATURES_VERSION, SOUND_MIN_S } from '../../core/hearing'
import { checks as messages } from '../../messages/server/checks'
import type { Db } from '../database/open'
import { REPLACED_VERSION } from '../database/replaced'
import type { Schema } from '../database/schema'
import { HEARD_BY_FILE } from '../rows/heard-by-file'
import { NOTHING_READ } from '../rows/never-read'

/** A sound that is listed as longer than its preview by less than this may be all there, s: lengths are listed in whole seconds. */
const LISTED_LONGER_S = 1

/** What is listed today and is not all known: the same for every video. */
export interface Listed {
  /** Sounds that are offered and that no check can listen for as they are. */
  readonly unheard: readonly UnheardSound[]
  /** Sounds that are known by an excerpt: their library lists them as longer than the preview that it gives, and their file is not here. */
  readonly inPart: readonly Pick<Schema['analyses'], 'sound_id' | 'audio_sha256'>[]
  /** Names of sources that are connected and of which nothing could be read yet. */
  readonly unreadSources: readonly string[]
}

/** A sound that cannot be listened for. */
export interface UnheardSound {
  readonly soundId: number
  readonly reason: string
  /** Nothing that is under way will change it. */
  readonly isForGood: boolean
  /** It was another recording when it was listened to. */
  readonly isReplaced: boolean
}

export async function loadListed(db: Db): Promise<Listed> {
  return {
    unheard: await listUnheard(db),
    inPart: await listKnownInPart(db),
    unreadSources: await listUnreadSources(db),
  }
}

/** Sounds whose audio was not fetched yet or could not be, or holds too little. */
export async function listUnheard(db: Db): Promise<UnheardSound[]> {
  const rows = await db
    .selectFrom('sounds')
    .innerJoin('sources', 'sources.id', 'sounds.source_id')
    .leftJoin('analyses', 'analyses.sound_id', 'sounds.id')
    .leftJoin('analysis_failures', 'analysis_failures.sound_id', 'sounds.id')
    .select(['sounds.id', 'analyses.duration_s', 'analyses.feature_version', 'analysis_failures.reason'])
    .where('sounds.withdrawn_at', 'is', null)
    // Sounds of a later generation are not seen yet.
    .whereRef('sounds.generation', '<=', 'sources.generation')
    .where(({ or, eb }) =>
      or([
        eb('analyses.sound_id', 'is', null),
        eb('analyses.duration_s', '<', SOUND_MIN_S),
        eb('analyses.feature_version', '<>', FEATURES_VERSION),
      ]),
    )
    .where(isListed('sounds.id'))
    .orderBy('sounds.id')
    .execute()
  return rows.map((row) => {
    const isReplaced = row.feature_version === REPLACED_VERSION
    const isShort = !isReplaced && row.duration_s !== null && row.duration_s < SOUND_MIN_S
    return {
      soundId: row.id,
      reason: unheardReason(row),
      isForGood: isShort || row.reason !== null,
      isReplaced,
    }
  })
}

/** Why a sound cannot be listened for, from its analysis and from why one failed. */
export function unheardReason({
  duration_s,
  feature_version,
  reason,
}: {
  readonly duration_s: number | null
  readonly feature_version: number | null
  readonly reason: string | null
}): string {
  if (feature_version === REPLACED_VERSION) return reason ?? messages.itIsAnotherRecordingNow
  if (duration_s !== null && duration_s < SOUND_MIN_S) return messages.tooShortBeHeardFor
  if (feature_version !== null && feature_version !== FEATURES_VERSION) return messages.wasListenedByOlderVersion
  return reason ?? messages.itsAudioWasNeverFetched
}

/** Sounds of which only an excerpt can be heard. Of those whose file is here all can be. */
async function listKnownInPart(db: Db): Promise<Listed['inPart']> {
  return db
    .selectFrom('analyses')
    .innerJoin('sounds', 'sounds.id', 'analyses.sound_id')
    .innerJoin('sources', 'sources.id', 'sounds.source_id')
    .select(['analyses.sound_id', 'analyses.audio_sha256'])
    .where('sources.kind', '=', 'library')
    .where('sounds.duration_s', '>', (eb) => eb('analyses.duration_s', '+', LISTED_LONGER_S))
    .where(({ not }) => not(HEARD_BY_FILE))
    .where(isListed('analyses.sound_id'))
    .orderBy('analyses.sound_id')
    .execute()
}

/** Libraries and folders whose reading was begun and never came to its end. One that is paused, and one that nobody asked for yet, do not count. */
async function listUnreadSources(db: Db): Promise<string[]> {
  const rows = await db
    .selectFrom('sources')
    .select('name')
    .where('kind', 'in', ['library', 'folder'])
    .where('removed_at', 'is', null)
    .where('paused_at', 'is', null)
    .where(NOTHING_READ)
    .where(({ or, exists, selectFrom, eb }) =>
      or([
        eb('last_error', 'is not', null),
        exists(
          selectFrom('jobs')
            .select('jobs.id')
            .where('jobs.kind', 'in', ['mirror', 'scan'])
            .whereRef('jobs.subject', '=', 'sources.id'),
        ),
      ]),
    )
    .orderBy('name')
    .execute()
  return rows.map(({ name }) => name)
}

/** Not only seen among the answers of a library that is searched: papers for it make it count. */
export function isListed(soundId: 'analyses.sound_id' | 'sounds.id') {
  return sql<boolean>`(NOT EXISTS (SELECT 1 FROM live_seen WHERE live_seen.sound_id = ${sql.ref(soundId)})
    OR EXISTS (SELECT 1 FROM grants WHERE grants.sound_id = ${sql.ref(soundId)}))`
}
