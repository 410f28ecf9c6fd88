import path from 'node:path'
import type { Readable } from 'node:stream'
import { endingOf, findMime, isVideoFile } from '../../core/formats/media-endings'
import { analyseInto } from '../analysis/listen-to-sounds'
import type { App } from '../context'
import { storeCopy } from '../copies/acquire'
import { plainFileName } from '../files/file-name'
import type { StoredFile } from '../files/store'
import { takeWithinLimit } from '../files/within-limit'
import { MAX_SPAN_S, requireSpan, type Span } from '../media/span'
import { ELSEWHERE_ID } from '../rows/elsewhere-source'
import { storeTerms } from '../terms/terms-store'
import { UNKNOWN_TERMS } from '../terms/unknown-terms'
import { runTask } from '../workers/pool'
import type { CutTask } from '../workers/tasks'
import { insertOwnSound } from './own-sound'

/**
 * Takes in a sound from elsewhere: a sound file as it is, or a span of a video's sound track. It has no papers until the creator
 * says where it is from.
 *
 * @param file.span Seconds; null for the whole file.
 * @returns The id of the sound; the same file gives the sound that is here already.
 * @throws {DomainError} too-large, bad-span, own-copy; {MediaError} when it cannot be listened to.
 */
export async function takeInFromElsewhere(
  services: App,
  file: { name: string; body: Readable; span: Span | null; signal: AbortSignal },
): Promise<{ soundId: number; already: boolean }> {
  const { db, store } = services
  const { name, body, span, signal } = file
  if (span) requireSpan(span)
  const fileName = plainFileName(name)
  const cutS = span ?? (isVideoFile(fileName) ? ([0, MAX_SPAN_S] as const) : null)
  const stored = cutS
    ? await storeCut(services, { body, cutS, signal })
    : await takeWithinLimit((maxBytes) => store.storeStream(body, { maxBytes, signal }))
  const mime = cutS ? 'audio/wav' : (findMime(fileName) ?? 'application/octet-stream')
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
      title: path.basename(fileName, path.extname(fileName)) || 'Untitled sound',
      maker: '',
      description: span ? `From ${span[0].toFixed(1)} to ${span[1].toFixed(1)} s of ${fileName}` : '',
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
    throw error
  }
  await services.jobs.enqueue('group', 'all', 'Comparing recordings')
  return { soundId, already: false }
}

/** Keeps a part of a file's sound track; the file itself is only looked at. */
async function storeCut(
  { store, pool }: App,
  { body, cutS, signal }: { body: Readable; cutS: Span; signal: AbortSignal },
): Promise<StoredFile> {
  const whole = store.temporaryPath('whole')
  const cut = store.temporaryPath('wav')
  try {
    await takeWithinLimit((maxBytes) => store.writeTemporary(whole, body, { maxBytes, signal }))
    await runTask<boolean>(pool, 'cutTrack', { path: whole, into: cut, span: cutS } satisfies CutTask, { signal })
    return await store.commitTemporaryFile(cut)
  } finally {
    await store.removeTemporary(whole)
    await store.removeTemporary(cut)
  }
}
