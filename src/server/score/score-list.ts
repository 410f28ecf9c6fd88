import { mayDropFrames } from '../../core/formats/timecode'
import { momentMarkers } from '../../core/moments'
import {
  audioKey,
  type Placement,
  type Score,
  type ScoreListContext,
  scoreToEdl,
  scoreToOtio,
  usedSounds,
} from '../../core/score'
import { score as messages } from '../../messages/server/score'
import type { Services } from '../context'
import type { Db } from '../database/open'
import { loadListFrame } from './list-frame'
import { fileNameOf } from './placed-audio'

/** Formats in which editing programs read what is placed. */
export const SCORE_LIST_FORMATS = ['otio', 'edl'] as const
export type ScoreListFormat = (typeof SCORE_LIST_FORMATS)[number]

/** What is placed in a video, as a list that an editing program reads. @throws {DomainError} not-found. */
export async function loadScoreList(
  services: Pick<Services, 'db'>,
  videoId: number,
  format: ScoreListFormat,
): Promise<{ readonly title: string; readonly text: string }> {
  const { title, document, rate, moments } = await loadListFrame(services, videoId)
  const files = await loadFiles(services.db, document)
  const fileOf = ({ audio, toS }: Placement) =>
    files.get(audioKey(audio)) ?? { name: messages.fileThatNotHere, lengthS: toS }
  const context: ScoreListContext = {
    title,
    rate,
    drop: mayDropFrames(rate),
    fileNameOf: (placement) => fileOf(placement).name,
    markers: momentMarkers(moments),
    fileLengthS: (placement) => Math.max(placement.toS, fileOf(placement).lengthS),
  }
  return { title, text: format === 'otio' ? scoreToOtio(document, context) : scoreToEdl(document, context) }
}

/** Names and lengths of the files that are placed: a copy has its own, a preview the title of its sound. */
async function loadFiles(db: Db, score: Score): Promise<Map<string, { name: string; lengthS: number }>> {
  const files = new Map<string, { name: string; lengthS: number }>()
  for (const { key, audio } of usedSounds(score)) {
    const sound =
      audio.soundId === null
        ? undefined
        : await db
            .selectFrom('sound_rows')
            .select(['shown_title', 'duration_s'])
            .where('id', '=', audio.soundId)
            .executeTakeFirst()
    files.set(key, { name: await fileNameOf(db, audio, sound?.shown_title), lengthS: sound?.duration_s ?? 0 })
  }
  return files
}
