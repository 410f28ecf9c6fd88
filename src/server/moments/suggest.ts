import type { SuggestionList } from '../../contract'
import { parsedVocabulary, spokenSounds, stemsOf } from '../../core/finding'
import { type CutSignals, cutSignals, type SoundHabit, type SpokenWord, suggestionsFor } from '../../core/moments'
import type { Services } from '../context'
import { cutOf } from '../cuts/cut-rows'
import type { Db } from '../database/open'
import { findMomentsRow } from '../rows/moments-rows'
import { getVideoRow } from '../rows/video-rows'
import { findCues, loadHabits } from '../videos/captions'
import { loadSoundTitles } from './moments'

/** What the cut of a video may want, beside what is planned. @throws {DomainError} not-found. */
export async function suggestMoments(
  { db, vocabulary }: Pick<Services, 'db' | 'vocabulary'>,
  videoId: number,
): Promise<SuggestionList> {
  await getVideoRow(db, videoId)
  const { document, cutId } = await findMomentsRow(db, videoId)
  const row =
    cutId === null ? undefined : await db.selectFrom('cuts').selectAll().where('id', '=', cutId).executeTakeFirst()
  const captions = await findCues(db, videoId)
  const cut = row ? cutOf(row, new Map()) : null
  const habits = await loadAllHabits(db)
  const spoken: SpokenWord[] = captions
    ? spokenSounds(
        captions.cues,
        parsedVocabulary(vocabulary()).vocabulary,
        habits.map(({ words }) => words),
      )
    : []
  // Without a cut, the captions alone say how long the video is.
  const lastCueS = Math.max(0, ...(captions?.cues.map(({ endS }) => endS) ?? []))
  const signals: CutSignals = cut
    ? cutSignals(cut)
    : { ...cutSignals({ sound: null, picture: null }), durationS: lastCueS + 1 }
  const suggestions = suggestionsFor({
    signals,
    spoken,
    habits,
    document,
    stems: stemsOf,
  })
  return {
    // Without a cut nothing tells of quiet spans.
    suggestions: cut ? suggestions : suggestions.filter(({ kind }) => kind === 'word' || kind === 'habit'),
    captionFile: captions?.fileName ?? null,
    cuesBeyondEnd: captions ? captions.cues.filter(({ startS }) => startS >= signals.durationS).length : 0,
  }
}

/** Habits that were said, and sounds that were picked for moments, of this and other videos. */
async function loadAllHabits(db: Db): Promise<SoundHabit[]> {
  const said = (await loadHabits(db)).map(({ id, title, words }) => ({ words, soundId: id, title, count: 0 }))
  const picks = new Map<string, SoundHabit>()
  const videos = await db
    .selectFrom('moment_documents')
    .innerJoin('videos', 'videos.id', 'moment_documents.video_id')
    .select('video_id')
    .where('videos.removed_at', 'is', null)
    .execute()
  for (const { video_id: videoId } of videos) {
    const { document } = await findMomentsRow(db, videoId)
    const titles = await loadSoundTitles(db, document)
    for (const { words, soundId } of document.moments) {
      const title = titles[String(soundId)]
      if (soundId === null || words === '' || title === undefined) continue
      const key = `${stemsOf(words)} ${soundId}`
      const known = picks.get(key)
      picks.set(key, { words, soundId, title, count: (known?.count ?? 0) + 1 })
    }
  }
  return [...said, ...picks.values()]
}
