import type { HeardPlaceWire, PlannedHeard } from '../../contract'
import { audioKey, type Placement, plannedAndHeard, usedSounds } from '../../core/score'
import { score as messages } from '../../messages/server/score'
import type { Services } from '../context'
import { isOneOf } from '../database/is-one-of'
import type { Db } from '../database/open'
import { findCurrentCheck, getFacts } from '../rows/check-facts'
import { findScoreRow } from '../rows/score-rows'
import { getVideoRow } from '../rows/video-rows'
import { findCopies, placedTitle } from './placed-audio'
import { loadSourceFacts } from './source-facts'

/** What is placed in a video held against what was heard in its newest file. @throws {DomainError} not-found. */
export async function loadPlannedHeard({ db }: Pick<Services, 'db'>, videoId: number): Promise<PlannedHeard> {
  await getVideoRow(db, videoId)
  const { revision, document } = await findScoreRow(db, videoId)
  const { checkId, factsSha256 } = await findCurrentCheck(db, videoId)
  const facts = factsSha256 === null ? null : await getFacts(db, factsSha256)
  const copies = await findCopies(db, facts?.detections.map(({ audioSha256 }) => audioSha256) ?? [])
  const titles = await loadTitles(db, facts?.detections.map(({ soundId }) => soundId) ?? [])
  const { both, heardOnly, plannedOnly, mutedOnly } = plannedAndHeard(document, facts?.detections ?? [])
  const sourceOf = await loadSourceFacts(
    db,
    heardOnly.map(({ soundId }) => ({ kind: 'preview', soundId })),
  )
  const placedTitles = new Map<string, string>()
  for (const { key, audio } of usedSounds(document)) placedTitles.set(key, await placedTitle(db, audio))
  const titleOf = ({ audio }: Placement): string => placedTitles.get(audioKey(audio)) ?? ''
  return {
    checkId: facts === null ? null : checkId,
    isSamePlan: facts?.planRevision == null ? null : facts.planRevision === revision,
    both: both.map(({ placement, laterS }) => ({
      placementId: placement.id,
      title: titleOf(placement),
      plannedS: placement.startS,
      laterS,
    })),
    heardOnly: heardOnly.map(({ soundId, audioSha256, startS, endS, fromS, toS, speed, gainDb }): HeardPlaceWire => {
      const source = sourceOf({ kind: 'preview', soundId }, { durationS: toS })
      return {
        soundId,
        title: titles.get(soundId) ?? messages.soundThatNotHereAnyMore,
        audioSha256,
        isCopy: copies.has(audioSha256),
        startS,
        endS,
        fromS,
        toS,
        speed,
        gainDb,
        isLoudAtStart: source.isLoudAt(fromS),
        isLoudAtEnd: source.isLoudAt(toS),
      }
    }),
    plannedOnly: facts
      ? plannedOnly.map((placement) => ({
          placementId: placement.id,
          title: titleOf(placement),
          plannedS: placement.startS,
        }))
      : [],
    mutedCount: mutedOnly.length,
  }
}

async function loadTitles(db: Db, ids: readonly number[]): Promise<Map<number, string>> {
  if (ids.length === 0) return new Map()
  const rows = await db
    .selectFrom('sound_rows')
    .select(['id', 'shown_title'])
    .where(isOneOf('id', [...new Set(ids)]))
    .execute()
  return new Map(rows.map(({ id, shown_title }) => [id, shown_title]))
}
