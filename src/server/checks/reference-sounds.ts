import fs from 'node:fs'
import { FEATURES_VERSION, SOUND_MIN_S } from '../../core/hearing'
import type { ReferenceSet } from '../analysis/stages'
import { unheardReason } from '../clearance/listed'
import type { Services } from '../context'
import type { Db } from '../database/open'
import type { ListenedSound } from './facts-of'

/** A sound that can be listened for. */
export interface AudibleSound extends ListenedSound {
  readonly featurePath: string
  /** There are papers for it: it is likely to be in the video. */
  readonly acquired: boolean
  /** There is nothing in it to listen for. */
  readonly isSilent: boolean
  readonly groupId: number | null
}

/** Every sound of every source, as a check finds them. */
export interface ReferenceSounds {
  readonly audible: readonly AudibleSound[]
  readonly inaudible: readonly { readonly soundId: number; readonly reason: string }[]
  /** Number of the newest change of any sound's audio that this list knows of. */
  readonly upToChange: number
}

export async function loadReferenceSounds({ db, store }: Pick<Services, 'db' | 'store'>): Promise<ReferenceSounds> {
  // Taken first: what changes while the list is read counts as changed since.
  const upToChange = await newestChange(db)
  const rows = await db
    .selectFrom('sounds')
    .leftJoin('analyses', 'analyses.sound_id', 'sounds.id')
    .leftJoin('analysis_failures', 'analysis_failures.sound_id', 'sounds.id')
    .leftJoin('recording_groups', 'recording_groups.sound_id', 'sounds.id')
    .leftJoin('live_seen', 'live_seen.sound_id', 'sounds.id')
    .select(['sounds.id', 'analyses.audio_sha256', 'analysis_failures.reason', 'analyses.duration_s'])
    .select([
      'analyses.loudness_lufs',
      'analyses.feature_version',
      'recording_groups.group_id',
      'sounds.withdrawn_at',
      'live_seen.seen_at',
    ])
    .select((eb) =>
      eb
        .exists(eb.selectFrom('grants').select('grants.id').whereRef('grants.sound_id', '=', 'sounds.id'))
        .as('acquired'),
    )
    .orderBy('sounds.id')
    .execute()
  const audible: AudibleSound[] = []
  const inaudible: { soundId: number; reason: string }[] = []
  for (const row of rows) {
    const featurePath = row.audio_sha256 ? store.featurePath(row.audio_sha256) : null
    const outdated = row.feature_version !== null && row.feature_version !== FEATURES_VERSION
    const short = (row.duration_s ?? SOUND_MIN_S) < SOUND_MIN_S
    if (featurePath && row.audio_sha256 && !outdated && !short && fs.existsSync(featurePath))
      audible.push({
        soundId: row.id,
        audioSha256: row.audio_sha256,
        featurePath,
        acquired: Boolean(row.acquired),
        isSilent: row.loudness_lufs === null,
        groupId: row.group_id,
      })
    // What is not offered any more, was never heard and never acquired can be in no video by way of its source. What a library that is searched once
    // answered is no more listed than the rest of what it has.
    else if ((row.withdrawn_at === null && row.seen_at === null) || row.audio_sha256 !== null || row.acquired)
      inaudible.push({ soundId: row.id, reason: unheardReason(row) })
  }
  return { audible, inaudible, upToChange }
}

/** Number of the newest change of any sound's audio. */
export async function newestChange(db: Db): Promise<number> {
  const newest = await db
    .selectFrom('audio_changes')
    .select((eb) => eb.fn.max('number').as('number'))
    .executeTakeFirst()
  return Number(newest?.number ?? 0)
}

/** What decides how a sound is listened for. */
export type ListedAudio = Pick<AudibleSound, 'featurePath' | 'acquired' | 'groupId'>

/** A list as the engine takes it. */
export function referenceSetOf(sounds: readonly ListedAudio[]): ReferenceSet {
  const groups = new Map<number, number[]>()
  sounds.forEach(({ groupId }, index) => {
    if (groupId !== null) groups.set(groupId, [...(groups.get(groupId) ?? []), index])
  })
  return {
    featurePaths: sounds.map(({ featurePath }) => featurePath),
    shortlist: sounds.flatMap(({ acquired }, index) => (acquired ? [index] : [])),
    groups: [...groups.values()].filter((group) => group.length > 1),
  }
}
