import path from 'node:path'
import type { Readable } from 'node:stream'
import { endingOf, findMime, isVideoFile } from '../../core/formats/media-endings'
import type { TimeRange } from '../../core/time-range'
import { folders as messages } from '../../messages/server/folders'
import { analyseInto } from '../analysis/listen-to-sounds'
import type { App } from '../context'
import { storeCopy } from '../copies/acquire'
import { plainFileName } from '../files/file-name'
import type { StoredFile } from '../files/store'
import { takeWithinLimit } from '../files/within-limit'
import { MAX_RANGE_S, requireRange } from '../media/range-limits'
import { removeUnusedCopy } from '../removal/room'
import { ELSEWHERE_ID } from '../rows/elsewhere-source'
import { storeTerms } from '../terms/terms-store'
import { UNKNOWN_TERMS } from '../terms/unknown-terms'
import type { CutTask } from '../workers/tasks'
import { runWatchedTask } from '../workers/watched-task'
import { readNote, storeNote } from './note-text'
import { insertOwnSound } from './own-sound'
import { fileFacts } from './read-tags'
import { rememberFile } from './remember-file'

/**
 * Takes in a sound from elsewhere: a sound file as it is, or a range of a video's sound track. It has no papers until the creator
 * says where it is from.
 *
 * @param file.range Seconds; null for the whole file.
 * @returns The id of the sound; the same file gives the sound that is here already.
 * @throws {DomainError} too-large, bad-range, own-copy; {MediaError} when it cannot be listened to.
 */
export async function takeInFromElsewhere(
  services: App,
  file: { name: string; body: Readable; range: TimeRange | null; signal: AbortSignal },
): Promise<{ soundId: number; already: boolean }> {
  const { db, store } = services
  const { name, body, range, signal } = file
  if (range) requireRange(range)
  const fileName = plainFileName(name)
  const cutRange = range ?? (isVideoFile(fileName) ? { startS: 0, endS: MAX_RANGE_S } : null)
  const stored = cutRange
    ? await storeCut(services, { body, cutRange, signal })
    : await takeWithinLimit((maxBytes) => store.storeStream(body, { maxBytes, signal }))
  const mime = cutRange ? 'audio/wav' : (findMime(fileName) ?? 'application/octet-stream')
  const held = await db
    .selectFrom('analyses')
    .innerJoin('sounds', 'sounds.id', 'analyses.sound_id')
    .select('sounds.id')
    .where('analyses.audio_sha256', '=', stored.sha256)
    .executeTakeFirst()
  if (held) return { soundId: held.id, already: true }
  const soundId = await db.transaction().execute(async (trx) => {
    const termsId = await storeTerms(trx, ELSEWHERE_ID, UNKNOWN_TERMS)
    await storeCopy(trx, { ...stored, mime, fileName })
    return insertOwnSound(trx, {
      sourceId: ELSEWHERE_ID,
      title: path.basename(fileName, path.extname(fileName)) || messages.untitledSound,
      maker: '',
      description: range ? messages.fromToSOf(range.startS.toFixed(1), range.endS.toFixed(1), fileName) : '',
      category: '',
      words: [],
      ending: mime === 'audio/wav' ? 'wav' : endingOf(fileName),
      termsId,
    })
  })
  try {
    await analyseInto(services, soundId, stored.sha256, mime, signal)
  } catch (error) {
    // What cannot be listened to is no sound: it is not left half there.
    await db.deleteFrom('sounds').where('id', '=', soundId).execute()
    await removeUnusedCopy(services, stored.sha256)
    throw error
  }
  if (!cutRange) await noteTags(services, { soundId, ...stored, fileName })
  await services.jobs.enqueue('group', 'all', messages.comparingRecordings)
  return { soundId, already: false }
}

/** What the tags of a file say of its rights is proposed as papers, and held against what is declared of it until that is answered. */
async function noteTags(
  { db, store, readText }: App,
  file: StoredFile & { readonly soundId: number; readonly fileName: string },
): Promise<void> {
  const { soundId, sha256, sizeBytes, fileName } = file
  const { rightsText } = await fileFacts(store.blobPath(sha256), fileName)
  if (!rightsText) return
  const where = `${soundId} ${fileName}`
  await rememberFile(db, ELSEWHERE_ID, { file: { path: where, sizeBytes, modifiedMs: 0 }, sha256, soundId })
  await storeNote(db, ELSEWHERE_ID, where, await readNote(rightsText, readText))
}

/** Stores a part of a file's sound track; the file itself is only looked at. */
async function storeCut(
  { store, interactivePool }: App,
  { body, cutRange, signal }: { body: Readable; cutRange: TimeRange; signal: AbortSignal },
): Promise<StoredFile> {
  const whole = store.temporaryPath('whole')
  const cut = store.temporaryPath('wav')
  try {
    await takeWithinLimit((maxBytes) => store.writeTemporary(whole, body, { maxBytes, signal }))
    await runWatchedTask<boolean>(
      interactivePool,
      'cutTrack',
      { path: whole, into: cut, range: cutRange } satisfies CutTask,
      { signal },
    )
    return await store.commitTemporaryFile(cut)
  } finally {
    await store.removeTemporary(whole)
    await store.removeTemporary(cut)
  }
}
