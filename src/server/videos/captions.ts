import type { SpokenWords } from '../../contract'
import { parsedVocabulary, type SpokenSound, spokenSounds, stemsOf } from '../../core/finding'
import { type Cue, captionCues } from '../../core/formats/captions'
import { videos as messages } from '../../messages/server/videos'
import type { Services } from '../context'
import { type Db, nowIso } from '../database/open'
import { DomainError } from '../domain-error'
import { plainFileName } from '../files/file-name'
import { latestDetections } from '../rows/latest-detections'
import { getVideoRow } from '../rows/video-rows'

/** A sound that is heard within this time of a word was placed in the mix for it, s: a little before, or up to the end of the sentence. */
const EARLIER_S = 1.5
const LATER_S = 3
/** Sounds that are offered first for one moment. */
const FIRST_MAX = 4

/** Takes in the captions of a video; those that were there are replaced. @throws {DomainError} not-found, not-captions. */
export async function setCaptions(
  services: Pick<Services, 'db'>,
  videoId: number,
  { name, text }: { name: string; text: string },
): Promise<void> {
  const { db } = services
  await getVideoRow(db, videoId)
  const cues = captionCues(text)
  if (!cues) throw new DomainError('not-captions', messages.thisFileHoldsNoCaptions)
  const values = { video_id: videoId, file_name: plainFileName(name), cues_json: JSON.stringify(cues), at: nowIso() }
  await db
    .insertInto('captions')
    .values(values)
    .onConflict((conflict) => conflict.column('video_id').doUpdateSet(values))
    .execute()
}

export async function removeCaptions({ db }: Pick<Services, 'db'>, videoId: number): Promise<void> {
  await db.deleteFrom('captions').where('video_id', '=', videoId).execute()
}

/** What is spoken in a video that stands for a sound. @throws {DomainError} not-found. */
export async function findSpokenWords(
  { db, vocabulary }: Pick<Services, 'db' | 'vocabulary'>,
  videoId: number,
): Promise<SpokenWords> {
  await getVideoRow(db, videoId)
  const captions = await findCues(db, videoId)
  if (!captions) return { fileName: null, cueCount: 0, moments: [] }
  const habits = await loadHabits(db)
  const known = parsedVocabulary(vocabulary()).vocabulary
  const words = habits.map((one) => one.words)
  const { cues } = captions
  const spoken = spokenSounds(cues, known, words)
  const before = await findSoundsUsedAtWords(db, videoId, (others) => spokenSounds(others, known, words))
  return {
    fileName: captions.fileName,
    cueCount: cues.length,
    moments: spoken.map((moment) => {
      const key = stemsOf(moment.words)
      const related = known.related(moment.words)
      const alike = new Set([key, ...(related?.same ?? []).map(stemsOf)])
      const own = habits.filter((habit) => alike.has(stemsOf(habit.words)))
      const used = [...alike].flatMap((one) => before.get(one) ?? [])
      const first = [
        ...own.map(({ id, title }) => ({ id, title, why: 'habit' as const })),
        ...used.map(({ id, title }) => ({ id, title, why: 'used before' as const })),
      ]
      return { ...moment, first: uniqueById(first).slice(0, FIRST_MAX) }
    }),
  }
}

/** Cues of the captions of a video, with the name of their file; null where there are none. */
export async function findCues(db: Db, videoId: number): Promise<{ fileName: string; cues: Cue[] } | null> {
  const row = await db.selectFrom('captions').selectAll().where('video_id', '=', videoId).executeTakeFirst()
  return row ? { fileName: row.file_name, cues: JSON.parse(row.cues_json) as Cue[] } : null
}

export async function loadHabits(db: Db): Promise<{ id: number; title: string; words: string }[]> {
  return db
    .selectFrom('habits')
    .innerJoin('sound_rows', 'sound_rows.id', 'habits.sound_id')
    .select(['sound_rows.id', 'shown_title as title', 'words'])
    .orderBy('sound_rows.id')
    .execute()
}

/** Sounds that are heard in other videos where a word is spoken, by the stems of the word, the most frequent first. */
async function findSoundsUsedAtWords(
  db: Db,
  exceptVideoId: number,
  spokenIn: (cues: readonly Cue[]) => SpokenSound[],
): Promise<Map<string, { id: number; title: string }[]>> {
  const videos = await db.selectFrom('captions').selectAll().where('video_id', '!=', exceptVideoId).execute()
  const counts = new Map<string, Map<number, { title: string; count: number }>>()
  for (const { video_id, cues_json } of videos) {
    const heard = await latestDetections(db)
      .innerJoin('sound_rows', 'sound_rows.id', 'detections.sound_id')
      .select(['detections.start_s', 'sound_rows.id', 'shown_title as title'])
      .where('videos.id', '=', video_id)
      .execute()
    for (const { words, atS } of spokenIn(JSON.parse(cues_json) as Cue[])) {
      for (const { start_s, id, title } of heard) {
        if (start_s < atS - EARLIER_S || start_s > atS + LATER_S) continue
        const sounds = counts.get(stemsOf(words)) ?? new Map<number, { title: string; count: number }>()
        counts.set(stemsOf(words), sounds)
        sounds.set(id, { title, count: (sounds.get(id)?.count ?? 0) + 1 })
      }
    }
  }
  return new Map(
    [...counts].map(([words, sounds]) => [
      words,
      [...sounds].sort(([, a], [, b]) => b.count - a.count).map(([id, { title }]) => ({ id, title })),
    ]),
  )
}

function uniqueById<T extends { readonly id: number }>(sounds: readonly T[]): T[] {
  return sounds.filter(({ id }, at) => sounds.findIndex((one) => one.id === id) === at)
}
