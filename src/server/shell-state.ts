import { sql } from 'kysely'
import { LevelsToVoiceWire, type ShellChange, type ShellState } from '../contract'
import { LEVEL_TO_VOICE_LU, type LevelsToVoice } from '../core/mix'
import { application as messages } from '../messages/server/application'
import type { Services } from './context'
import { DomainError } from './domain-error'
import { IS_LIVE } from './rows/is-live'
import { findOwnSpeech, setOwnSpeech } from './rows/own-speech'
import { findVideoInHand } from './rows/video-rows'
import { findSetting, getNamePattern, setSetting } from './settings'

/** What every place needs to know. @param named Video that the asking tab has in hand; undefined where it does not say. */
export async function loadShellState(
  { db, countSounds }: Pick<Services, 'db' | 'countSounds'>,
  named?: number | null,
): Promise<ShellState> {
  const counts = await sql<{
    videos: number
    sources: number
    live: number
    basket: number
  }>`SELECT
    (SELECT count(*) FROM videos WHERE removed_at IS NULL) AS videos,
    (SELECT count(*) FROM sources WHERE connected = 1 AND kind = 'library') AS sources,
    (SELECT count(*) FROM sources WHERE connected = 1 AND kind = 'library' AND ${IS_LIVE}) AS live,
    (SELECT count(*) FROM basket) AS basket`.execute(db)
  const { videos = 0, sources = 0, live = 0, basket = 0 } = counts.rows[0] ?? {}
  return {
    videoInHandId: await findVideoInHandId(db, named),
    licensee: (await findSetting(db, 'licensee')) ?? '',
    namePattern: await getNamePattern(db),
    soundCount: [...(await countSounds()).values()].reduce((sum, { sounds }) => sum + sounds, 0),
    videoCount: videos,
    connectedSources: sources,
    liveSources: live,
    basketCount: basket,
    ownSpeech: await findOwnSpeech(db),
    levelsToVoiceLu: await findLevels(db),
  }
}

/** Levels that the creator set; those that stand at first where none are, or cannot be read. */
async function findLevels(db: Services['db']): Promise<LevelsToVoice> {
  const saved = await findSetting(db, 'levels-to-voice')
  const read = LevelsToVoiceWire.safeParse(saved === null ? null : JSON.parse(saved))
  return read.success ? read.data : LEVEL_TO_VOICE_LU
}

/** Takes another video in hand, or changes who holds the licences. @throws {DomainError} not-found. */
export async function changeShell(
  services: Pick<Services, 'db' | 'countSounds'>,
  change: ShellChange,
  named?: number | null,
): Promise<ShellState> {
  const { db } = services
  if (change.videoInHandId !== undefined) {
    if (change.videoInHandId !== null) {
      const there = await db.selectFrom('videos').select('id').where('id', '=', change.videoInHandId).executeTakeFirst()
      if (!there) throw new DomainError('not-found', messages.thisVideoNotHereAny)
    }
    await setSetting(db, 'video-in-hand', change.videoInHandId === null ? null : String(change.videoInHandId))
  }
  if (change.namePattern !== undefined) await setSetting(db, 'name-pattern', change.namePattern)
  const { ownSpeech } = change
  if (ownSpeech !== undefined) await db.transaction().execute((trx) => setOwnSpeech(trx, ownSpeech?.by ?? null))
  const { levelsToVoiceLu: levels } = change
  if (levels !== undefined) await setSetting(db, 'levels-to-voice', levels && JSON.stringify(levels))
  if (change.licensee !== undefined) await setSetting(db, 'licensee', change.licensee)
  return loadShellState(services, change.videoInHandId === undefined ? named : change.videoInHandId)
}

async function findVideoInHandId(db: Services['db'], named: number | null | undefined): Promise<number | null> {
  if (named === null) return null
  if (named === undefined) return (await findVideoInHand(db))?.id ?? null
  // A tab may have a video in hand that was removed in another one.
  const there = await db
    .selectFrom('videos')
    .select('id')
    .where('id', '=', named)
    .where('removed_at', 'is', null)
    .executeTakeFirst()
  return there?.id ?? null
}
